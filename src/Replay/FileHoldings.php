<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Catalogue\ScanTarget;
use Ypomna\App\Catalogue\Value\PageFound;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Catalogue\Value\RecordRole;
use Ypomna\App\Catalogue\WarcScan;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Warc\DeclaredDigest;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordHeader;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcFindingCode;
use Ypomna\Core\Warc\WarcReader;

/** WARC files by themselves, without a database: their places are held in memory, some 200 bytes a record. */
final class FileHoldings implements Holdings, ScanTarget
{
    /** File, place, moment in microseconds, status, number of the method, first bytes of the digest of what was sent. */
    private const ENTRY = 'vfile/Pat/qmicros/vstatus/Cmethod/a8body';
    private const ENTRY_BYTES = 29;

    /** @param (\Closure(RecordHeader): (Record|null))|null $elsewhere finds what a record refers to that is in none of the files */
    public function __construct(private readonly ?\Closure $elsewhere = null)
    {
    }

    /** @var list<string> paths */
    private array $files = [];
    /** @var array<string, string> entries of answers, one behind the other, by hash of the exact address */
    private array $byUrl = [];
    /** @var array<string, string> the same by hash of the key */
    private array $byKey = [];
    /** @var array<string, string> file and place of an answer that is whole, by digest of its payload */
    private array $byPayload = [];
    /** @var array<string, string> the same by hash of the record's id */
    private array $byId = [];
    /** @var array<string, array<int, string>> file and place of further pieces by number, by hash of the first one's id */
    private array $segments = [];
    /** @var array<string, int> places of rendered documents, by number of the file and hash of the exact address */
    private array $rendered = [];
    /** @var list<string> */
    private array $methods = [];
    /** @var array<string, ReadCapture> by code */
    private array $captures = [];
    /** @var array<string, list<string>> codes by key */
    private array $codes = [];
    /** @var list<array{PageFound, string}> pages of the file that is read now, with their codes */
    private array $pages = [];
    /**
     * @var array<string, array{dom?: int, title?: string, fragment?: string}> what the file that is read now says of pages, by record id
     */
    private array $notes = [];

    /**
     * Reads a file.
     *
     * @return list<array{ReadCapture, string|null}> its pages with their titles: what was opened as one, and what stands for such
     */
    public function add(string $path): array
    {
        $this->files[] = $path;
        $this->pages = [];
        $this->notes = [];
        $facts = WarcScan::run($path, $this);
        $listed = [];
        $isHtml = static fn (PageFound $page): bool => 200 === $page->status
            && \in_array($page->mime, ['text/html', 'application/xhtml+xml'], true) && null === $page->redirectTo
            && true === Url::tryParse($page->url)?->isWeb();
        [$found, $said] = $this->gathered();
        $named = [] !== array_filter($said, static fn (array $note): bool => isset($note['title']));
        foreach ($found as [$page, $code]) {
            $notes = $said[$page->recordId] ?? [];
            $capture = new ReadCapture(
                Viewer::system(), $code, $page->url, MomentType::moment($page->at), \count($this->files) - 1, $path, $page->offset,
                $notes['dom'] ?? null, $notes['fragment'] ?? null,
            );
            $this->captures[$code] = $capture;
            $this->codes[$page->key][] = $code;
            $chosen = $facts->knowsDestinations ? $page->asDocument : (isset($notes['title']) || ([] === $listed && !$named));
            if ($isHtml($page) && $chosen) {
                $listed[$page->key.' '.$page->at] ??= [$capture, $notes['title'] ?? null];
            }
        }

        return array_values($listed);
    }

    /**
     * @return array{list<array{PageFound, string}>, array<string, array{dom?: int, title?: string, fragment?: string}>} pages and notes of
     *     the file that was read last
     */
    private function gathered(): array
    {
        return [$this->pages, $this->notes];
    }

    public function record(array $row): void
    {
        [$at, $role, $url, $key, $moment, $method, $status, , , $payload, , $id, $revisit, $sent] = $row;
        $place = pack('vP', \count($this->files) - 1, $at);
        if (RecordRole::Dom->value === $role) {
            $this->rendered[(\count($this->files) - 1).' '.$url] ??= (int) $at;
        }
        if (RecordRole::Segment->value === $role) {
            $this->segments[(string) $id][(int) $status] = $place;
        }
        if (RecordRole::Answer->value !== $role) {
            return;
        }
        $number = array_search($method, $this->methods, true);
        if (false === $number) {
            $number = min(255, array_push($this->methods, (string) $method) - 1);
        }
        $entry = $place.pack('qvCa8', self::micros(MomentType::moment((string) $moment)), $status, $number, (string) $sent);
        $this->byUrl[(string) $url] = ($this->byUrl[(string) $url] ?? '').$entry;
        $this->byKey[(string) $key] = ($this->byKey[(string) $key] ?? '').$entry;
        if (1 !== $revisit) {
            $this->byId[(string) $id] = $place;
            if (null !== $payload) {
                $this->byPayload[(string) $payload] ??= $place;
            }
        }
    }

    public function page(PageFound $page): void
    {
        // Nobody can compute it: a page finds no other by knowing what is in the file.
        $code = Codes::random();
        $this->pages[] = [$page, $code];
    }

    public function derivative(string $recordId, RecordRole $role, int $offset): void
    {
        if (RecordRole::Dom === $role) {
            $this->notes[$recordId]['dom'] ??= $offset;
        }
    }

    public function completeness(string $recordId, string $verdict, string $facts): void
    {
    }

    public function requested(string $recordId, string $url): void
    {
        $fragment = Url::tryParse($url)?->fragment;
        if (null !== $fragment && '' !== $fragment) {
            $this->notes[$recordId]['fragment'] = $fragment;
        }
    }

    public function title(string $recordId, string $title): void
    {
        $this->notes[$recordId]['title'] = $title;
    }

    public function capture(Viewer $viewer, string $code, bool $afresh = true): ?ReadCapture
    {
        return $this->captures[$code] ?? null;
    }

    public function find(string $url, ReadCapture $as, string $method, ?string $body): ?RecordPlace
    {
        $exact = $this->byUrl[(string) hex2bin(AddressKeys::urlHash($url))] ?? '';
        $alike = $this->byKey[(string) hex2bin(AddressKeys::keyHash($url))] ?? '';

        return $this->best($exact, $as->fileId, $as, $method, $body) ?? $this->best($alike, $as->fileId, $as, $method, $body)
            ?? $this->best($exact, null, $as, $method, $body) ?? $this->best($alike, null, $as, $method, $body);
    }

    public function isOwn(RecordPlace $place, ReadCapture $capture): bool
    {
        $pages = array_filter(
            $this->captures,
            static fn (ReadCapture $other): bool => $other->fileId === $place->fileId && $other->responseOffset === $place->offset,
        );

        return $place->fileId === $capture->fileId && ([] === $pages || isset($pages[$capture->code]));
    }

    public function foresee(array $urls, ReadCapture $as): void
    {
        // Everything is in memory already.
    }

    public function rendered(string $url, ReadCapture $as): ?int
    {
        return $this->rendered[$as->fileId.' '.hex2bin(AddressKeys::urlHash($url))] ?? null;
    }

    public function nearest(Viewer $viewer, string $url, \DateTimeImmutable $moment): ?ReadCapture
    {
        $found = array_map(fn (string $code): ReadCapture => $this->captures[$code], $this->codes[AddressKeys::keyOf($url)] ?? []);
        $distance = static fn (ReadCapture $capture): int => abs(self::micros($capture->at) - self::micros($moment));
        usort($found, static fn (ReadCapture $a, ReadCapture $b): int => $distance($a) <=> $distance($b));

        return $found[0] ?? null;
    }

    /**
     * The captures of the same address.
     *
     * @return list<ReadCapture> oldest first
     */
    public function history(ReadCapture $capture): array
    {
        $found = array_map(fn (string $code): ReadCapture => $this->captures[$code], $this->codes[AddressKeys::keyOf($capture->url)] ?? []);
        usort($found, static fn (ReadCapture $a, ReadCapture $b): int => [$a->at, $a->code] <=> [$b->at, $b->code]);

        return $found;
    }

    public function answer(string $path, int $offset): HttpRecord
    {
        $record = WarcReader::at($path, $offset);
        if (!$record->header->is(RecordType::Revisit)) {
            return HttpRecord::ofSegments($record, $record->header->isSegment() ? $this->further($record->header->id() ?? '') : []);
        }
        $original = $this->original($record->header)
            ?? throw new WarcError(
                WarcFindingCode::MissingField,
                $offset,
                'The record refers to another one for its content, and that is in none of the files',
            );

        return HttpRecord::ofRevisit($record, $original);
    }

    public function block(string $path, int $offset): iterable
    {
        return WarcReader::at($path, $offset)->block();
    }

    /** ISO 28500:2017, clause 6.7: by digest, by id, by address and date; of a “not modified” the one before it. */
    private function original(RecordHeader $revisit): ?Record
    {
        $digest = DeclaredDigest::parse($revisit->fields->get('WARC-Payload-Digest') ?? '');
        $place = ('sha256' === $digest?->algorithm ? $this->byPayload[(string) $digest->bytes] ?? null : null)
            ?? $this->byId[AddressKeys::idHash($revisit->refersTo() ?? '')] ?? null;
        if (null !== $place) {
            return $this->at($place);
        }
        $url = trim($revisit->fields->get('WARC-Refers-To-Target-URI') ?? $revisit->uri() ?? '', '<>');
        $moment = WarcScan::moment($revisit->fields->get('WARC-Refers-To-Date') ?? $revisit->date());
        $best = null;
        foreach ($this->entries($this->byUrl[(string) hex2bin(AddressKeys::urlHash($url))] ?? '') as $entry) {
            $record = null !== $moment && $entry['micros'] <= self::micros($moment) && (null === $best || $entry['micros'] >= $best[0])
                ? $this->at(pack('vP', $entry['file'], $entry['at']))
                : null;
            if (null !== $record && !$record->header->is(RecordType::Revisit)) {
                $best = [$entry['micros'], $record];
            }
        }

        return $best[1] ?? (null === $this->elsewhere ? null : ($this->elsewhere)($revisit));
    }

    /**
     * @return \Generator<int, Record>
     */
    private function further(string $firstId): \Generator
    {
        $places = $this->segments[AddressKeys::idHash($firstId)] ?? [];
        ksort($places);
        foreach ($places as $place) {
            yield $this->at($place);
        }
    }

    private function at(string $place): Record
    {
        /** @var array{file: int, at: int} $numbers */
        $numbers = unpack('vfile/Pat', $place);

        return WarcReader::at($this->files[$numbers['file']], $numbers['at']);
    }

    private function best(string $entries, ?int $file, ReadCapture $as, string $method, ?string $body): ?RecordPlace
    {
        $places = [];
        foreach ($this->entries($entries) as $entry) {
            if (null === $file || $entry['file'] === $file) {
                $sent = "\0\0\0\0\0\0\0\0" === $entry['body']
                    ? null
                    : (null !== $body && str_starts_with((string) hex2bin($body), $entry['body']) ? $body : bin2hex($entry['body']));
                $places[] = new RecordPlace(
                    $entry['file'], $this->files[$entry['file']], $entry['at'], self::moment($entry['micros']), $entry['status'], '',
                    $this->methods[$entry['method']] ?? 'GET', '', true, 0, null, $sent,
                );
            }
        }
        $best = RecordFinder::best($places, $as->at, $method, $body, null !== $file);
        if (null === $best) {
            return null;
        }
        $url = WarcReader::at($best->path, $best->offset)->header->uri() ?? '';

        return new RecordPlace(
            $best->fileId, $best->path, $best->offset, $best->at, $best->status, '', $best->method, $url, true, 0, null, $best->requestBody,
        );
    }

    /**
     * @return \Generator<int, array{file: int, at: int, micros: int, status: int, method: int, body: string}>
     */
    private function entries(string $entries): \Generator
    {
        for ($at = 0; $at < \strlen($entries); $at += self::ENTRY_BYTES) {
            /** @var array{file: int, at: int, micros: int, status: int, method: int, body: string} $entry */
            $entry = unpack(self::ENTRY, $entries, $at);
            yield $entry;
        }
    }

    private static function micros(\DateTimeImmutable $moment): int
    {
        return (int) $moment->format('U') * 1_000_000 + (int) $moment->format('u');
    }

    private static function moment(int $micros): \DateTimeImmutable
    {
        return (new \DateTimeImmutable('@'.intdiv($micros - (($micros % 1_000_000 + 1_000_000) % 1_000_000), 1_000_000)))->modify(
            '+'.(($micros % 1_000_000 + 1_000_000) % 1_000_000).' microseconds',
        );
    }
}
