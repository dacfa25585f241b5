<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\ReadCaptures;
use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\LedgerMirror;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Warc\HttpRecord;

/** What the catalogue knows of. */
final readonly class CatalogueHoldings implements Holdings
{
    public function __construct(
        private ReadCaptures $captures,
        private RecordFinder $finder,
        private RecordRepository $records,
        private CaptureContent $content,
        private Store $store,
        private LedgerMirror $ledger,
        private CaptureParts $parts,
        private PartMemory $memory,
    ) {
    }

    public function capture(Viewer $viewer, string $code, bool $afresh = true): ?ReadCapture
    {
        return ($afresh ? null : $this->memory->capture($viewer, $code)) ?? $this->captures->byCode($viewer, $code);
    }

    public function find(string $url, ReadCapture $as, string $method, ?string $body): ?RecordPlace
    {
        $remembered = 'GET' === $method && null === $body ? $this->memory->place($as, $url) : null;
        if (null === $remembered) {
            return $this->finder->find($as->viewer, $url, $as->fileId, $as->at, $method, $body);
        }

        return false === $remembered ? null : $remembered;
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
        if ($this->captures->isPage($place->fileId, $place->offset)) {
            return false;
        }

        return Url::tryParse($place->url)?->origin() === Url::tryParse($capture->url)?->origin()
            || isset($this->asked($capture)[$place->path.' '.$place->offset]);
    }

    /** Whether it was fetched later to complete that very capture. */
    private function completes(RecordPlace $place, ReadCapture $capture): bool
    {
        $line = $place->own ? $this->ledger->line('capture.completed', $place->path) : null;

        return ($line->details['completes'] ?? null) === $capture->code;
    }

    /**
     * @return array<string, true> path and place of what a page of such a file asks for
     */
    private function asked(ReadCapture $capture): array
    {
        $asked = $this->memory->asked($capture);
        if (null === $asked) {
            $asked = [];
            foreach ($this->parts->askedFor($capture) as $part) {
                $asked[$part->path.' '.$part->offset] = true;
            }
            $this->memory->keepAsked($capture, $asked);
        }

        return $asked;
    }

    public function foresee(array $urls, ReadCapture $as): void
    {
        $this->memory->keep($as, $this->finder->findAll($as->viewer, $urls, $as->fileId, $as->at));
    }

    public function rendered(string $url, ReadCapture $as): ?int
    {
        return $this->records->rendered($as->fileId, $url);
    }

    public function nearest(Viewer $viewer, string $url, \DateTimeImmutable $moment): ?ReadCapture
    {
        return $this->captures->nearest($viewer, $url, $moment);
    }

    public function answer(string $path, int $offset): HttpRecord
    {
        return $this->content->answer($path, $offset);
    }

    public function block(string $path, int $offset): iterable
    {
        return $this->store->record($path, $offset)->block();
    }
}
