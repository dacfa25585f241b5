<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\PagePictures;
use Ypomna\App\Catalogue\ReadCaptures;
use Ypomna\App\Catalogue\SeenRecords;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Search\Message\IndexCapture;
use Ypomna\App\Search\Message\IndexItem;
use Ypomna\App\Search\Message\ReadCaptureFiles;
use Ypomna\App\Search\Message\ReadItemFiles;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Reading;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Search\Writing;
use Ypomna\Core\Warc\WarcError;

/**
 * Has pictures, recordings and files read, for the texts in which they stand: the last worker that the machine thinks of does. What was
 * read is kept file by file, so one that is killed goes on where it was.
 */
final readonly class ReadingIndexer
{
    /** Pictures of one page, the largest files first. */
    private const MOST_PICTURES = 60;
    /** Parts of the picture of a page, from the top. */
    private const MOST_TILES = 20;
    private const LARGEST = 134_217_728;

    public function __construct(
        private Readings $readings,
        private FileWords $words,
        private Texts $texts,
        private CaptureMaintenance $captures,
        private CaptureContent $content,
        private CaptureParts $parts,
        private ReadCaptures $pages,
        private SeenRecords $records,
        private PagePictures $pictures,
        private Attachments $attachments,
        private Store $store,
        private MessageBusInterface $bus,
        private LoggerInterface $logger,
    ) {
    }

    #[AsMessageHandler]
    public function readCapture(ReadCaptureFiles $message): void
    {
        $code = $this->capture($message->capture);
        if (null !== $code) {
            $this->bus->dispatch(new IndexCapture($code));
        }
    }

    #[AsMessageHandler]
    public function readItem(ReadItemFiles $message): void
    {
        if ($this->files($message->item)) {
            $this->bus->dispatch(new IndexItem($message->item));
        }
    }

    /** Those that wait, one after the other, until none does. */
    public function catchUp(): void
    {
        while ([] !== ($waiting = $this->texts->toBeRead(50))) {
            foreach ($waiting as $id) {
                $this->capture($id);
            }
        }
    }

    /** @return string|null its code if there are words now that were not there before: it is to be taken again */
    private function capture(int $id): ?string
    {
        $capture = $this->texts->isToBeRead($id) ? $this->captures->capture($id) : null;
        $shown = [];
        try {
            $shown = null === $capture ? [] : (Writing::isOfPage($capture->mime ?? '')
                ? $this->ofPage($capture) : $this->ofAnswer($capture));
        } catch (WarcError) {
            // What cannot be read has no words; a verification names it.
        } catch (\Throwable $e) {
            $this->logger->error('The pictures of a capture cannot be read for the index.',
                ['capture' => $capture->code, 'exception' => $e]);
        }
        $this->readings->shows($id, $shown);

        return $this->texts->wasRead($id, [] !== $this->readings->ofCapture($id)) ? $capture?->code : null;
    }

    /** Whether something was read. */
    public function files(int $item): bool
    {
        $files = [];
        foreach ($this->attachments->ofAll([$item]) as $file) {
            if (FileWords::mayHave($file->type) && null !== $file->sha256) {
                $files[$file->sha256] = $file;
                if ('application/pdf' === $file->type) {
                    $files[Readings::ofPages($file->sha256)] = $file;
                }
            }
        }
        $missing = $this->readings->missing(array_keys($files));
        $isRead = false;
        foreach ($missing as $digest) {
            $isLarge = $files[$digest]->bytes > self::LARGEST && 1 !== preg_match('#^(?:audio|video)/#', $files[$digest]->type);
            $reading = $isLarge
                ? new Reading(Means::Written, [], 'too_large')
                : $this->told(fn (): ?Reading => $digest === $files[$digest]->sha256
                    ? $this->words->of($this->attachments->path($files[$digest]), $files[$digest]->type, null)
                    : $this->words->ofPicturePages($this->attachments->path($files[$digest]), null));
            if (null !== $reading) {
                $this->readings->keep($digest, $reading);
                $isRead = true;
            }
        }

        return $isRead;
    }

    /**
     * The file itself was captured.
     *
     * @return array<string, array{int, bool}> as {@see Readings::shows()} takes it
     */
    private function ofAnswer(Capture $capture): array
    {
        $type = $capture->mime ?? '';
        // What is written in a PDF is in the text of the capture.
        $isPdf = 'application/pdf' === $type;
        $digest = $this->taken(
            null, $this->content->body($capture->warcFile->path, $capture->responseOffset),
            fn (string $path): ?Reading => $isPdf
                ? $this->words->ofPicturePages($path, null) : $this->words->of($path, $type, null),
            $isPdf,
        );

        return null === $digest ? [] : [$digest => [-1, false]];
    }

    /**
     * Pictures in a page; and the page as it looked, where it says next to nothing.
     *
     * @return array<string, array{int, bool}> as {@see Readings::shows()} takes it
     */
    private function ofPage(Capture $capture): array
    {
        $document = $this->content->document($capture);
        $language = Writing::ofDocument($document)->language;
        $last = \count($document->passages) - 1;
        $behind = [];
        foreach ($document->pictures as $picture) {
            $behind[$picture->src] ??= min($picture->behind, $last);
        }
        $shown = [];
        foreach ($this->shown($capture) as $place) {
            $digest = $this->taken($place->payloadSha256, $this->content->body($place->path, $place->offset),
                fn (string $path): ?Reading => $this->words->of($path, $place->mime, $language));
            if (null !== $digest) {
                $shown[$digest] = [$behind[$place->url] ?? -1, $this->pages->isPage($place->fileId, $place->offset)];
            }
        }
        if (self::isThin($document)) {
            foreach (\array_slice($this->pictures->offsets($capture), 0, self::MOST_TILES) as $offset) {
                $digest = $this->taken(null, $this->store->record($capture->warcFile->path, $offset)->block(),
                    fn (string $path): ?Reading => $this->words->of($path, 'image/png', $language));
                if (null !== $digest) {
                    $shown[$digest] = [-1, false];
                }
            }
        }

        return $shown;
    }

    public static function isThin(Document $document): bool
    {
        $letters = 0;
        foreach ($document->passages as $passage) {
            $letters += mb_strlen($passage->text);
            if ($letters >= 200) {
                return false;
            }
        }

        return true;
    }

    /** @return list<RecordPlace> answers that are pictures; none that only some may see beside those of the capture itself */
    private function shown(Capture $capture): array
    {
        $read = ReadCapture::of(Viewer::system(), $capture);
        $isAlone = $this->parts->isAlone($read);
        $pictures = array_values(array_filter(
            $this->parts->of($read),
            fn (RecordPlace $place): bool => 1 === preg_match('#^image/(?!svg)#', $place->mime) && $place->status < 400
                && (($isAlone && $place->fileId === $read->fileId) || $this->records->mayGoAlong($place->path, $place->offset)),
        ));
        usort($pictures, static fn (RecordPlace $a, RecordPlace $b): int => $b->length <=> $a->length);

        return \array_slice($pictures, 0, self::MOST_PICTURES);
    }

    /**
     * One file that nobody foresaw stops no other.
     *
     * @param \Closure(): (Reading|null) $read
     */
    private function told(\Closure $read): ?Reading
    {
        try {
            return $read();
        } catch (\Throwable $e) {
            $this->logger->error('A file cannot be read for the index.', ['exception' => $e]);

            return new Reading(Means::Written, [], 'damaged');
        }
    }

    /**
     * Has a file read, unless it was read before.
     *
     * @param string|null $digest of it, hex; null if it is not known yet
     * @param iterable<string> $bytes
     * @param \Closure(string): (Reading|null) $read
     * @param bool $ofPages whether only those pages of it are read that are pictures
     *
     * @return string|null its digest; null if it is too large, or nothing here can read it
     */
    private function taken(?string $digest, iterable $bytes, \Closure $read, bool $ofPages = false): ?string
    {
        if (null !== $digest && [] === $this->readings->missing([$digest])) {
            return $digest;
        }
        $path = tempnam(sys_get_temp_dir(), 'ypomna-read-');
        $file = false === $path ? false : fopen($path, 'w');
        if (false === $path || false === $file) {
            return null;
        }
        try {
            $length = 0;
            foreach ($bytes as $piece) {
                $length += \strlen($piece);
                if ($length > self::LARGEST || \strlen($piece) !== fwrite($file, $piece)) {
                    return null;
                }
            }
            fclose($file);
            $digest ??= (string) hash_file('sha256', $path);
            $digest = $ofPages ? Readings::ofPages($digest) : $digest;
            if ([] !== $this->readings->missing([$digest])) {
                $reading = $this->told(static fn (): ?Reading => $read($path));
                if (null === $reading) {
                    return null;
                }
                $this->readings->keep($digest, $reading);
            }

            return $digest;
        } finally {
            @unlink($path);
        }
    }
}
