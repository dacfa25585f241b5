<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fixity\LedgerLine;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\WarcReader;

/** What the catalogue knows of. */
final readonly class CatalogueHoldings implements Holdings
{
    private const SELECT = 'SELECT c.code, c.url, c.captured_at, c.warc_file_id, c.response_offset, c.dom_offset, f.path FROM capture c JOIN warc_file f ON f.id = c.warc_file_id';

    public function __construct(private Connection $database, private RecordFinder $records, private CaptureContent $content, private Store $store, private CaptureParts $parts, private PartMemory $memory)
    {
    }

    public function capture(string $code): ?ReadCapture
    {
        $remembered = $this->memory->capture($code);
        $row = null === $remembered ? $this->database->fetchAssociative(self::SELECT.' WHERE c.code = ?', [$code]) : false;

        return false === $row ? $remembered : self::read($row);
    }

    public function find(string $url, ReadCapture $as, string $method, ?string $body): ?RecordPlace
    {
        $remembered = 'GET' === $method && null === $body ? $this->memory->place($as->code, $url) : null;

        return null === $remembered ? $this->records->find($url, $as->fileId, $as->at, $method, $body) : (false === $remembered ? null : $remembered);
    }

    public function isOwn(RecordPlace $place, ReadCapture $capture): bool
    {
        if ($place->fileId !== $capture->fileId) {
            return $this->completes($place, $capture);
        }
        if ($place->offset === $capture->responseOffset || $this->parts->isAlone($capture)) {
            return true;
        }
        // A file of many pages: others of them are none of this one's, whatever it shares with them.
        if (false !== $this->database->fetchOne('SELECT 1 FROM capture WHERE warc_file_id = ? AND response_offset = ? AND redirect_to IS NULL', [$place->fileId, $place->offset])) {
            return false;
        }

        return Url::tryParse($place->url)?->origin() === Url::tryParse($capture->url)?->origin() || isset($this->asked($capture)[$place->path.' '.$place->offset]);
    }

    /** Whether it was fetched later to complete that very capture. */
    private function completes(RecordPlace $place, ReadCapture $capture): bool
    {
        $line = $place->own ? $this->database->fetchOne("SELECT line FROM ledger_line WHERE subject = ? AND kind = 'capture.completed' LIMIT 1", [$place->path]) : false;

        return \is_string($line) && (LedgerLine::parse($line)->details['completes'] ?? null) === $capture->code;
    }

    /**
     * @return array<string, true> path and place of what a page of such a file asks for
     */
    private function asked(ReadCapture $capture): array
    {
        $asked = $this->memory->asked($capture->code);
        if (null === $asked) {
            $asked = [];
            foreach ($this->parts->askedFor($capture) as $part) {
                $asked[$part->path.' '.$part->offset] = true;
            }
            $this->memory->keepAsked($capture->code, $asked);
        }

        return $asked;
    }

    public function foresee(array $urls, ReadCapture $as): void
    {
        $this->memory->keep($as, $this->records->findAll($urls, $as->fileId, $as->at));
    }

    public function rendered(string $url, ReadCapture $as): ?int
    {
        $offset = $this->database->fetchOne("SELECT at_offset FROM record WHERE url_hash = ? AND warc_file_id = ? AND role = 'dom' ORDER BY at_offset LIMIT 1", [hex2bin(AddressKeys::urlHash($url)), $as->fileId]);

        return is_numeric($offset) ? (int) $offset : null;
    }

    public function nearest(string $url, \DateTimeImmutable $moment): ?ReadCapture
    {
        $select = self::SELECT.' JOIN address a ON a.id = c.address_id WHERE a.url_key = ? AND c.captured_at ';
        [$key, $at] = [AddressKeys::keyOf($url), MomentType::text($moment)];
        $rows = $this->database->fetchAllAssociative("({$select} <= ? ORDER BY c.captured_at DESC, c.id DESC LIMIT 1) UNION ALL ({$select} > ? ORDER BY c.captured_at, c.id LIMIT 1)", [$key, $at, $key, $at]);
        $found = array_map(self::read(...), $rows);
        $distance = static fn (ReadCapture $capture): float => abs((float) $capture->at->format('U.u') - (float) $moment->format('U.u'));
        usort($found, static fn (ReadCapture $a, ReadCapture $b): int => $distance($a) <=> $distance($b));

        return $found[0] ?? null;
    }

    public function answer(string $path, int $offset): HttpRecord
    {
        return $this->content->answer($path, $offset);
    }

    public function block(string $path, int $offset): iterable
    {
        return WarcReader::at($this->store->path($path), $offset)->block();
    }

    /**
     * @param array<string, mixed> $values
     */
    private static function read(array $values): ReadCapture
    {
        $row = new Row($values);

        return new ReadCapture($row->text('code'), $row->text('url'), $row->moment('captured_at'), $row->int('warc_file_id'), $row->text('path'), $row->int('response_offset'), $row->intOrNull('dom_offset'));
    }
}
