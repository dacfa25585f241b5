<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\Value\HeldPayload;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\RollingFile;
use Ypomna\Core\Warc\WarcError;

/**
 * Gathers the records of captures: each once, whole files of one's own as they stand, of others what belongs to the capture,
 * with its warcinfo, its requests and metadata; at the end the records that revisits refer to.
 */
final class RecordExport
{
    /** More than so many are not named one by one. */
    private const MOST_LEFT_OUT = 1_000;
    /** Records around an answer that are looked at for its request and metadata. */
    private const AROUND = 64;
    /** How far requests and metadata are looked for from their answer, in bytes of the file. */
    private const REACH = 4_194_304;

    /** @var array<int, true> numbers of files that are in as a whole */
    private array $whole = [];
    /** @var array<string, true> path and place of records that are in */
    private array $in = [];
    /** @var array<string, HeldPayload> path and place of records that are referred to */
    private array $wanted = [];
    /** @var list<string> */
    private array $leftOut = [];

    public function __construct(
        private readonly Viewer $viewer,
        private readonly RollingFile $out,
        private readonly FileRepository $files,
        private readonly RecordRepository $records,
        private readonly Store $store,
        private readonly Originals $originals,
        private readonly CaptureParts $parts,
        private readonly SeenFile $seen,
    ) {
    }

    public function capture(Capture $capture): void
    {
        $file = $capture->warcFile;
        if (isset($this->whole[(int) $file->id])) {
            return;
        }
        if (WarcFile::OWN === $file->origin) {
            $this->ownFile((int) $file->id, $file->path);

            return;
        }
        if ($this->parts->isAlone(ReadCapture::of($this->viewer, $capture))) {
            $this->otherFile((int) $file->id, $file->path);

            return;
        }
        $this->out->group(0);
        foreach ($this->parts->of(ReadCapture::of($this->viewer, $capture)) as $place) {
            $this->withItsOwn($place->path, $place->offset);
        }
        foreach ([$capture->domOffset, $capture->textOffset] as $offset) {
            if (null !== $offset) {
                $this->record($file->path, $offset);
            }
        }
    }

    /** A file of one's own: closed and digested, so it is copied as it stands. */
    public function ownFile(int $id, string $path): void
    {
        $bytes = @filesize($this->store->local($path));
        if (false === $bytes) {
            $this->leave($path, 0, 'the file is missing from the store');

            return;
        }
        $this->whole[$id] = true;
        $this->out->group($bytes);
        if ($this->seen->isWhole($this->viewer, $id, $path)) {
            $this->out->add($this->store->pieces($path));
        } else {
            $this->recordsOf($id, $path);
        }
        $this->refersTo($id, $path);
    }

    /** One record with what belongs to it. */
    public function withItsOwn(string $path, int $offset): void
    {
        if (isset($this->in[$path.' '.$offset])) {
            return;
        }
        try {
            $record = $this->store->record($path, $offset);
        } catch (WarcError $e) {
            $this->leave($path, $offset, $e->what);

            return;
        }
        $this->info($path);
        foreach ($this->around($path, $offset, $record) as $other) {
            $this->record($path, $other);
        }
        $this->record($path, $offset);
        if ($record->header->is(RecordType::Revisit) && !$this->seen->isAbridged($path, $record)) {
            $this->want($this->originals->of($record->header));
        }
        foreach ($record->header->isSegment() ? $this->originals->segments($record->header->id() ?? '') : [] as $segment) {
            $this->record($segment->path, $segment->offset);
        }
    }

    /**
     * Adds what is referred to and not in yet.
     *
     * @return list<string> what could not be given, and why
     */
    public function finish(): array
    {
        ksort($this->wanted);
        foreach ($this->wanted as $original) {
            $number = $this->files->idOf($original->path);
            if (null === $number || !isset($this->whole[$number])) {
                $this->info($original->path);
                $this->record($original->path, $original->offset);
            }
        }

        return $this->leftOut;
    }

    /** A file that came from outside: record by record, since it may be damaged or packed otherwise. */
    private function otherFile(int $id, string $path): void
    {
        $this->whole[$id] = true;
        $this->out->group($this->store->size($path));
        $this->recordsOf($id, $path);
        $this->refersTo($id, $path);
    }

    private function recordsOf(int $id, string $path): void
    {
        try {
            $leave = function (int $offset, string $why) use ($path): void {
                $this->leave($path, $offset, $why);
            };
            foreach ($this->seen->records($this->viewer, $id, $path, $leave) as $pieces) {
                $this->out->add($pieces);
            }
        } catch (WarcError $e) {
            $this->leave($path, 0, $e->what);
        }
    }

    private function record(string $path, int $offset): void
    {
        if (isset($this->in[$path.' '.$offset])) {
            return;
        }
        $this->in[$path.' '.$offset] = true;
        try {
            $this->out->add($this->seen->record($path, $offset));
        } catch (WarcError $e) {
            $this->leave($path, $offset, $e->what);
        }
    }

    /** The record that says how the file was made, if it begins with one. */
    private function info(string $path): void
    {
        try {
            $first = $this->store->reader($path)->records()->current();
        } catch (WarcError) {
            return;
        }
        if (true === $first?->header->is(RecordType::Warcinfo)) {
            $this->record($path, $first->offset);
        }
    }

    /**
     * Requests and metadata of an answer: they stand near it, before or behind.
     *
     * @return list<int>
     */
    private function around(string $path, int $offset, Record $record): array
    {
        [$from, $to] = $this->records->neighbours($path, $offset, self::REACH);
        $found = [];
        $looked = 0;
        foreach ($this->store->reader($path, $from ?? 0)->records() as $other) {
            if ($other->offset >= ($to ?? \PHP_INT_MAX) || ++$looked > self::AROUND) {
                break;
            }
            $header = $other->header;
            $linked = \in_array($record->header->id() ?? '', [$header->concurrentTo(), $header->refersTo()], true)
                || (null !== $header->id() && $header->id() === $record->header->concurrentTo());
            if ($linked && $header->is(RecordType::Request, RecordType::Metadata)) {
                $found[] = $other->offset;
            }
        }

        return $found;
    }

    private function refersTo(int $id, string $path): void
    {
        $offset = -1;
        while ([] !== ($offsets = $this->records->revisits($id, $offset, 1_000))) {
            foreach ($offsets as $next) {
                $offset = $next;
                try {
                    $record = $this->store->record($path, $offset);
                    $this->want($this->seen->isAbridged($path, $record) ? null : $this->originals->of($record->header));
                } catch (WarcError $e) {
                    $this->leave($path, $offset, $e->what);
                }
            }
        }
    }

    private function want(?HeldPayload $original): void
    {
        if (null !== $original && !isset($this->in[$original->path.' '.$original->offset])) {
            $this->wanted[$original->path.' '.$original->offset] = $original;
        }
    }

    private function leave(string $path, int $offset, string $why): void
    {
        if (\count($this->leftOut) < self::MOST_LEFT_OUT) {
            $this->leftOut[] = \sprintf('%s, the record at byte %d: %s.', $path, $offset, rtrim($why, '.'));
        }
    }
}
