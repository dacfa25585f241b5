<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Value\PageFound;
use Ypomna\App\Catalogue\Value\RecordRole;
use Ypomna\App\Catalogue\Value\ScanFacts;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\DeclaredCompleteness;
use Ypomna\Core\Fetch\ExchangeRecords;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Http\MimeSniffing;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Warc\DeclaredDigest;
use Ypomna\Core\Warc\DigestVerdict;
use Ypomna\Core\Warc\Inspector;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordFacts;
use Ypomna\Core\Warc\RecordHeader;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\ResourceFile;
use Ypomna\Core\Warc\WarcFinding;
use Ypomna\Core\Warc\WarcFindingCode;
use Ypomna\Core\Warc\WarcReader;

/**
 * Reads a WARC file once, from front to back, and says what is in it that the catalogue should know: a row a record,
 * and which of the answers are pages. Nothing that the file claims of itself is trusted beyond that.
 *
 * A page is an answer in HTML whose request said `Sec-Fetch-Dest: document`; in a file without that field, every answer
 * in HTML with status 200; and in any file what the first answer is or, over redirects, leads to. In files of whole sites of
 * our own, what is marked as asked for as a page.
 */
final class WarcScan
{
    private const NO_REQUEST = ['GET', null, null];
    private const MAX_METADATA = 1_048_576;
    /** More findings are not kept: a file of nothing but damage must not fill the memory. */
    private const MAX_FINDINGS = 10_000;

    /**
     * @var array<string, array{string, string|null, string|null}> method, Sec-Fetch-Dest and SHA-256 of what was sent, by the id of its
     *     answer, until that has come
     */
    private array $requests = [];
    private bool $knowsDestinations = false;
    private ?string $firstUrl = null;
    private bool $chainEnded = false;
    /** @var array{Record, RecordFacts, string}|null an answer whose request may come behind it, with its moment */
    private ?array $waiting = null;
    /** @var array{string, string|null} the date that was read last, and what it came to */
    private array $lastDate = ['', null];

    private int $records = 0;
    private int $answers = 0;
    private int $answerBytes = 0;
    private string $agent = '';
    private string $how = '';
    /** Whether the file marks what was asked for as a page. */
    private bool $marked = false;
    /** @var list<WarcFinding> */
    private array $findings = [];

    private function __construct(private readonly ScanTarget $target)
    {
    }

    public static function run(string $path, ScanTarget $target): ScanFacts
    {
        $scan = new self($target);
        $reader = WarcReader::open($path);
        foreach ($reader->records() as $record) {
            $scan->record($record);
        }
        $scan->enterWaiting();

        return new ScanFacts(
            $scan->records, $scan->answers, $scan->answerBytes, $scan->agent, $scan->how, $scan->knowsDestinations,
            [...$scan->findings, ...$reader->findings()],
        );
    }

    private function record(Record $record): void
    {
        ++$this->records;
        if ($record->header->is(RecordType::Metadata, RecordType::Warcinfo) && $record->header->contentLength() <= self::MAX_METADATA) {
            $this->about($record);

            return;
        }
        $facts = Inspector::inspect($record);
        if (DigestVerdict::Mismatch === $facts->digest && \count($this->findings) < self::MAX_FINDINGS) {
            $this->findings[] = new WarcFinding(
                WarcFindingCode::DigestMismatch,
                $record->offset,
                \sprintf('The record’s bytes are not those that its digest was made of (at byte %d).', $record->offset),
            );
        }
        $this->take($record, $facts);
    }

    private function take(Record $record, RecordFacts $facts): void
    {
        $header = $record->header;
        $url = $header->uri() ?? '';
        $at = $this->date($header->date() ?? '');
        $role = match (true) {
            // What opened a web socket is no answer; what was said on it stands in a record of its own.
            $header->is(RecordType::Response) && 101 === $facts->http?->status => null,
            $header->is(RecordType::Response) && null !== $facts->http => RecordRole::Answer,
            $header->is(RecordType::Revisit) => RecordRole::Answer,
            $header->is(RecordType::Continuation) => RecordRole::Segment,
            $header->is(RecordType::Conversion, RecordType::Resource) => self::derivative(
                $header->contentType() ?? '', $header->is(RecordType::Resource),
            ),
            default => null,
        };
        if ($header->is(RecordType::Request)) {
            $this->request($record, $facts);
        }
        if (null === $role || null === $at || '' === $url) {
            return;
        }
        if (RecordRole::Answer !== $role) {
            $this->enter($record, $facts, $role, $at, self::NO_REQUEST);

            return;
        }
        $this->enterWaiting();
        $request = $this->requests[$header->id() ?? ''] ?? $this->requests[$header->concurrentTo() ?? ''] ?? null;
        unset($this->requests[$header->id() ?? ''], $this->requests[$header->concurrentTo() ?? '']);
        if (null === $request && $header->is(RecordType::Response, RecordType::Revisit)) {
            // Some writers put the request behind its answer.
            $this->waiting = [$record, $facts, $at];
        } else {
            $this->enter($record, $facts, $role, $at, $request ?? self::NO_REQUEST);
        }
    }

    /**
     * @param array{string, string|null, string|null} $request
     */
    private function enterWaiting(array $request = self::NO_REQUEST): void
    {
        if (null !== $this->waiting) {
            [$record, $facts, $at] = $this->waiting;
            $this->waiting = null;
            $this->enter($record, $facts, RecordRole::Answer, $at, $request);
        }
    }

    /**
     * @param array{string, string|null, string|null} $request method, Sec-Fetch-Dest and SHA-256 of what was sent
     */
    private function enter(Record $record, RecordFacts $facts, RecordRole $role, string $at, array $request): void
    {
        $header = $record->header;
        $url = $header->uri() ?? '';
        [$method, $destination, $sent] = $request;
        $status = $facts->http->status ?? self::seenStatus($header) ?? 200;
        if (304 === $status && $header->is(RecordType::Revisit)) {
            // Not modified: the page was there, as it was kept before.
            $status = 200;
        }
        if (RecordRole::Segment === $role) {
            // Of a piece, its number stands where others have their status.
            $status = min(65_535, (int) $header->fields->get('WARC-Segment-Number'));
        }
        $mime = null === $facts->http ? $header->mime() ?? '' : $facts->http->mime() ?? self::sniffed($facts, $facts->http);
        $parsed = Url::tryParse($url);
        if (null !== $parsed && '' !== $parsed->userinfo && $parsed->isWeb()) {
            // It may sign somebody in; an address that is shown or looked up is without.
            $parsed = $parsed->withoutUserinfo();
            $url = (string) preg_replace('~^([a-z][a-z0-9+.-]*:[/\\\\]{2})[^/\\\\?#]*@~i', '$1', $url);
        }
        $key = AddressKeys::ofParsed($parsed, $url);
        $payload = $header->is(RecordType::Revisit)
            ? self::declaredSha256($header->fields->get('WARC-Payload-Digest'))
            : $facts->payloadSha256;
        if (RecordRole::Answer === $role) {
            ++$this->answers;
            $this->answerBytes += $facts->payloadBytes;
            $this->page($record, $facts, $url, $parsed, $key, $at, $status, $mime, $destination);
        } elseif (null !== $header->refersTo() && \in_array($role, [RecordRole::Dom, RecordRole::Text], true)) {
            $this->target->derivative($header->refersTo(), $role, $record->offset);
        }
        $this->target->record([
            $record->offset, $role->value, (string) hex2bin(AddressKeys::urlHash($url)), (string) hex2bin(AddressKeys::hashOf($key)),
            $at, $method, $status, mb_strcut(mb_scrub($mime), 0, 100),
            $header->contentLength() ?? 0, null === $payload ? null : (string) hex2bin($payload), mb_scrub(mb_strcut($url, 0, 60_000)),
            AddressKeys::idHash((RecordRole::Segment === $role ? $header->segmentOf() : $header->id()) ?? ''),
            $header->is(RecordType::Revisit) ? 1 : 0, null === $sent ? null : (string) hex2bin($sent),
            null === $header->fields->get('WARC-Truncated') ? 0 : 1,
        ]);
    }

    private function request(Record $record, RecordFacts $facts): void
    {
        $destination = $facts->http?->fields->get('Sec-Fetch-Dest');
        $this->knowsDestinations = $this->knowsDestinations || null !== $destination;
        $request = [
            mb_scrub(substr($facts->http->method ?? 'GET', 0, 8)), $destination, $facts->payloadBytes > 0 ? $facts->payloadSha256 : null,
        ];
        [$own, $answer] = [$record->header->id() ?? '', $record->header->concurrentTo() ?? ''];
        $waits = $this->waiting[0]->header ?? null;
        if (null !== $waits && (('' !== $answer && $answer === $waits->id()) || ('' !== $own && $own === $waits->concurrentTo()))) {
            $this->enterWaiting($request);
        } elseif (\count($this->requests) < 1_000) {
            $this->requests['' === $answer ? $own : $answer] = $request;
        }
    }

    private function page(
        Record $record,
        RecordFacts $facts,
        string $url,
        ?Url $parsed,
        string $key,
        string $at,
        int $status,
        string $mime,
        ?string $destination,
    ): void {
        if (null === $parsed) {
            // It stays in the file; there is no place at which it could be read.
            if (\count($this->findings) < self::MAX_FINDINGS) {
                $this->findings[] = WarcFinding::at(
                    WarcFindingCode::BadHeader,
                    $record->offset,
                    \sprintf('“%s” is no address that a page can be read at', mb_strimwidth(mb_scrub($url), 0, 200, '…')),
                );
            }

            return;
        }
        $this->firstUrl ??= $url;
        $inChain = !$this->chainEnded && !$this->marked && $url === $this->firstUrl;
        $asked = 'page' === $record->header->fields->get(ExchangeRecords::PAGE);
        $html = \in_array($mime, ['text/html', 'application/xhtml+xml'], true);
        if (!$inChain && !$asked
            && !($html && ('document' === $destination || (200 === $status && !$this->knowsDestinations && null === $destination)))) {
            return;
        }
        $location = $status >= 300 && $status < 400 ? $facts->http?->fields->get('Location') : null;
        $target = null === $location ? null : Url::tryParse($location, $parsed);
        if ($inChain) {
            $this->chainEnded = null === $target;
            $this->firstUrl = null === $target ? $url : (string) $target->withoutUserinfo()->withoutFragment();
        }
        $this->target->page(new PageFound(
            $record->header->id() ?? '', $url, $key, mb_scrub(AddressKeys::canonical($parsed)), $at, $record->offset, $status,
            '' === $mime ? null : $mime, $facts->payloadSha256, null === $target ? null : (string) $target->withoutUserinfo(),
            $inChain || $asked || 'document' === $destination, $asked || 'document' === $destination,
        ));
    }

    private static function sniffed(RecordFacts $facts, MessageHead $head): string
    {
        if ('' === $facts->beginning) {
            return '';
        }
        $bytes = '';
        try {
            foreach (Body::decode([$facts->beginning], $head->fields->tokens('Content-Encoding')) as $piece) {
                $bytes .= $piece;
            }
        } catch (UnsupportedCoding|TooLarge) {
            return 'application/octet-stream';
        }

        return MimeSniffing::of($bytes);
    }

    private function about(Record $record): void
    {
        $text = Body::collect($record->block(), self::MAX_METADATA + 65_536);
        if ($record->header->is(RecordType::Warcinfo)) {
            $this->agent = 1 === preg_match('/^operator:\s*(.+)$/mi', $text, $m) ? mb_scrub(mb_strcut(trim($m[1]), 0, 190)) : $this->agent;
            $this->marked = 1 === preg_match('/^pages:\s*marked\s*$/mi', $text);
            $this->how = 1 === preg_match('/^how:\s*(rendered|plain|other-archive)\s*$/mi', $text, $m) ? strtolower($m[1]) : $this->how;

            return;
        }
        $data = 'application/json' === $record->header->contentType() ? json_decode($text, true, 64) : null;
        if (\is_array($data) && \is_string($data['page'] ?? null) && \is_string($data['title'] ?? null)) {
            $this->target->title($data['page'], $data['title']);
            if (\is_string($data['requested'] ?? null)) {
                $this->target->requested($data['page'], $data['requested']);
            }
        }
        $said = DeclaredCompleteness::read(\is_array($data) ? $data['completeness'] ?? null : null);
        $page = $record->header->concurrentTo();
        if (null !== $said && null !== $page) {
            $this->target->completeness(
                $page, $said['verdict'], (string) json_encode($said, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE),
            );
        }
    }

    private static function derivative(string $contentType, bool $isResource): ?RecordRole
    {
        $mime = strtolower(trim(explode(';', $contentType)[0]));

        return match (true) {
            $isResource => RecordRole::Answer,
            'text/html' === $mime => RecordRole::Dom,
            'text/plain' === $mime => RecordRole::Text,
            str_starts_with($mime, 'image/') => RecordRole::Picture,
            default => null,
        };
    }

    /** What a witness's browser saw of an answer that is not in the file. */
    private static function seenStatus(RecordHeader $header): ?int
    {
        $status = $header->is(RecordType::Resource) ? $header->fields->get(ResourceFile::SEEN_STATUS) ?? '' : '';

        return 1 === preg_match('/^[1-5]\d\d$/D', $status) ? (int) $status : null;
    }

    private static function declaredSha256(?string $text): ?string
    {
        $digest = DeclaredDigest::parse($text ?? '');

        return 'sha256' === $digest?->algorithm && null !== $digest->bytes ? bin2hex($digest->bytes) : null;
    }

    /** A date of a record as the tables hold it; records that follow each other often have the same. */
    private function date(string $date): ?string
    {
        if ($this->lastDate[0] !== $date) {
            $usual = 1 === preg_match('/^(\d{4})-(\d\d)-(\d\d)T((?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d)(?:\.(\d{1,6}))?Z$/D', $date, $m)
                && checkdate((int) $m[2], (int) $m[3], (int) $m[1]);
            $moment = $usual ? null : self::moment($date);
            $this->lastDate = [$date, match (true) {
                $usual => \sprintf('%s-%s-%s %s.%s', $m[1], $m[2], $m[3], $m[4], str_pad($m[5] ?? '', 6, '0')),
                default => null === $moment ? null : MomentType::text($moment),
            }];
        }

        return $this->lastDate[1];
    }

    /** A date of a record; null if it is none. */
    public static function moment(?string $date): ?\DateTimeImmutable
    {
        if (null === $date
            || 1 !== preg_match('/^\d{4}(?:-\d\d(?:-\d\d(?:T\d\d:\d\d(?::\d\d(?:\.\d{1,9})?)?(?:Z|[+-]\d\d:?\d\d))?)?)?$/', $date)) {
            return null;
        }
        $date = match (\strlen($date)) {
            4 => $date.'-01-01',
            7 => $date.'-01',
            default => (string) preg_replace('/(\.\d{6})\d+/', '$1', $date),
        };
        try {
            return (new \DateTimeImmutable($date, new \DateTimeZone('UTC')))->setTimezone(new \DateTimeZone('UTC'));
        } catch (\Exception) {
            return null;
        }
    }
}
