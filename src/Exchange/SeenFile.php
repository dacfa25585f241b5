<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\SeenRecords;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\Warc\InFull;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\Repack;
use Ypomna\Core\Warc\WarcError;

/**
 * A file of the store as it may be given to somebody: without the records of captures that they may not see, and with those in full that
 * refer to a record that is limited to some.
 */
final readonly class SeenFile
{
    private const AT_ONCE = 1_000;

    public function __construct(
        private SeenRecords $seen,
        private RecordRepository $records,
        private Originals $originals,
        private Store $store,
    ) {
    }

    /** Whether it goes out as it stands. */
    public function isWhole(Viewer $viewer, int $file, string $path): bool
    {
        return [] === $this->seen->withheld($viewer, $file) && [] === $this->abridged($file, $path);
    }

    /**
     * @param \Closure(int, string): void $leave told of records that cannot be read: where, and why
     *
     * @return \Generator<int, iterable<string>> records, each a gzip member
     */
    public function records(Viewer $viewer, int $file, string $path, \Closure $leave): \Generator
    {
        $withheld = $this->seen->withheld($viewer, $file);
        $abridged = $this->abridged($file, $path);
        $without = [];
        $asItStands = null;
        foreach ($this->store->reader($path)->records() as $record) {
            $asItStands ??= $this->store->isSound($path, $record->offset);
            if (isset($withheld[AddressKeys::urlHash($record->header->uri() ?? '')])
                || isset($without[$record->header->concurrentTo() ?? '']) || isset($without[$record->header->refersTo() ?? ''])) {
                $without[$record->header->id() ?? ''] = true;
                unset($without['']);
                continue;
            }
            try {
                yield match (true) {
                    isset($abridged[$record->offset]) => $this->inFull($record),
                    $asItStands => $this->store->repacked($path, $record->offset),
                    default => Repack::anew($record),
                };
            } catch (WarcError $e) {
                $leave($record->offset, $e->what);
            }
        }
    }

    /**
     * One record: in full, if it refers to one that does not go along.
     *
     * @return iterable<string>
     *
     * @throws WarcError
     */
    public function record(string $path, int $offset): iterable
    {
        $record = $this->store->record($path, $offset);

        return $this->isAbridged($path, $record) ? $this->inFull($record) : $this->store->repacked($path, $offset);
    }

    /** Whether a record refers to one that does not go along. */
    public function isAbridged(string $path, Record $record): bool
    {
        $original = $record->header->is(RecordType::Revisit) ? $this->originals->of($record->header) : null;

        return null !== $original && $original->path !== $path && !$this->seen->mayGoAlong($original->path, $original->offset);
    }

    /**
     * @return iterable<string>
     *
     * @throws WarcError
     */
    private function inFull(Record $record): iterable
    {
        $original = $this->originals->of($record->header) ?? throw new \LogicException('It was there when it was asked for.');

        return InFull::record($record, fn (): Record => $this->store->record($original->path, $original->offset));
    }

    /** @return array<int, true> places of records that refer to one that does not go along */
    private function abridged(int $file, string $path): array
    {
        $abridged = [];
        $offset = -1;
        while ([] !== ($offsets = $this->records->revisits($file, $offset, self::AT_ONCE))) {
            foreach ($offsets as $next) {
                $offset = $next;
                try {
                    if ($this->isAbridged($path, $this->store->record($path, $next))) {
                        $abridged[$next] = true;
                    }
                } catch (WarcError) {
                    // It is left out by its name when the file is read.
                }
            }
        }

        return $abridged;
    }
}
