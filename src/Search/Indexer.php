<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\TransportNamesStamp;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\Event\CaptureDescribed;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Catalogue\Event\CatalogueEmptied;
use Ypomna\App\Catalogue\Event\CatalogueRebuilt;
use Ypomna\App\Catalogue\Event\FileCatalogued;
use Ypomna\App\Search\Message\FollowTexts;
use Ypomna\App\Search\Message\IndexAll;
use Ypomna\App\Search\Message\IndexCapture;
use Ypomna\App\Search\Message\IndexFile;
use Ypomna\App\Search\Message\IndexItems;
use Ypomna\App\Search\Message\ReadCaptureFiles;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Search\Writing;
use Ypomna\Core\Warc\WarcError;

/** Takes what comes in into the index of words: workers do, portion by portion, and go on wherever they were broken off. */
final readonly class Indexer
{
    /** Whoever holds the index has this lock. */
    public const HELD = 'search-index-held';
    private const PORTION = 50;
    /** Captures of which it is looked at once whether they were taken. */
    private const LOOKED_AT = 1_000;
    /** Captures of which the pictures were not read are named to the slow worker again. */
    private const SENT = 20_000;

    public function __construct(
        private Texts $texts,
        private IndexEntries $entries,
        private Readings $readings,
        private Engine $engine,
        private CaptureMaintenance $captures,
        private CaptureRepository $found,
        private CaptureContent $content,
        private CaptureDescriptions $descriptions,
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private LoggerInterface $logger,
        private LockFactory $locks,
    ) {
    }

    #[AsEventListener]
    public function onFileCatalogued(FileCatalogued $event): void
    {
        if ($event->captures > 0) {
            $this->bus->dispatch(new IndexFile($event->file));
        }
    }

    #[AsEventListener]
    public function onCaptureDescribed(CaptureDescribed $event): void
    {
        $this->texts->due($event->capture);
        $this->bus->dispatch(new IndexCapture($event->capture));
    }

    #[AsEventListener]
    public function onCapturesLimited(CapturesLimited $event): void
    {
        $borrowers = $this->readings->borrowers($event->codes);
        $this->texts->readAgain($borrowers);
        foreach ($borrowers as $capture) {
            $this->bus->dispatch(new ReadCaptureFiles($capture), [new TransportNamesStamp(['slow'])]);
        }
        foreach ($this->texts->limit($event->codes, $event->limited) as $text) {
            $this->bus->dispatch(new FollowTexts($text));
        }
    }

    #[AsEventListener(CatalogueEmptied::class)]
    public function onCatalogueEmptied(): void
    {
        $this->texts->clear();
        $this->readings->clear();
    }

    #[AsEventListener(CatalogueRebuilt::class)]
    public function onCatalogueRebuilt(): void
    {
        $this->bus->dispatch(new IndexAll());
        $this->bus->dispatch(new IndexItems());
    }

    /** One that was killed while it held the index left it so. */
    #[AsEventListener(RoundMade::class)]
    public function release(): void
    {
        $lock = $this->locks->createLock(self::HELD);
        if ($lock->acquire()) {
            try {
                $this->engine->release();
            } finally {
                $lock->release();
            }
        }
    }

    #[AsMessageHandler]
    public function indexFile(IndexFile $message): void
    {
        $pages = $this->captures->toDescribe($message->file, $message->behind, self::PORTION);
        $behind = $message->behind;
        foreach ($pages as $page) {
            $behind = $page->offset;
            $this->take($page->id);
        }
        $this->flush();
        if (self::PORTION === \count($pages)) {
            $this->bus->dispatch(new IndexFile($message->file, $behind));
        }
    }

    #[AsMessageHandler]
    public function indexAll(IndexAll $message): void
    {
        $behind = $this->portion($message->behind);
        if (null === $behind) {
            $this->catchUp();
            foreach ($this->texts->toBeRead(self::SENT) as $capture) {
                $this->bus->dispatch(new ReadCaptureFiles($capture), [new TransportNamesStamp(['slow'])]);
            }
        } else {
            $this->bus->dispatch(new IndexAll($behind));
        }
    }

    #[AsMessageHandler]
    public function indexCapture(IndexCapture $message): void
    {
        $capture = $this->found->byCode(Viewer::system(), $message->code);
        if (null !== $capture) {
            $this->take((int) $capture->id, true);
            $this->flush();
        }
    }

    #[AsMessageHandler]
    public function followTexts(FollowTexts $message): void
    {
        $this->entries->follow([$message->text]);
    }

    /**
     * The captures behind one, a portion: those that were not taken yet.
     *
     * @return int|null where it goes on; null at the end
     */
    public function portion(int $behind): ?int
    {
        $ids = $this->captures->behind($behind, self::LOOKED_AT);
        $missing = $this->texts->missing($ids);
        foreach (\array_slice($missing, 0, self::PORTION) as $id) {
            $this->take($id);
            $behind = $id;
        }
        $this->flush();

        return [] === $ids ? null : (\count($missing) > self::PORTION ? $behind : $ids[\count($ids) - 1]);
    }

    /** What changed since it was taken, and what the index was not told of. */
    public function catchUp(): void
    {
        while ([] !== ($due = $this->texts->allDue(self::PORTION))) {
            foreach ($due as $id) {
                $this->take($id, true);
            }
            $this->flush();
        }
        $this->entries->follow(array_keys($this->entries->stale()));
    }

    /** @param bool $isChanged whether something of it changed since it was taken */
    private function take(int $id, bool $isChanged = false): void
    {
        if (!$isChanged && null !== $this->texts->of($id)) {
            return;
        }
        $capture = $this->captures->capture($id);
        if (null === $capture) {
            $this->texts->gone($id);
            $this->readings->gone($id);

            return;
        }
        $said = $this->descriptions->ofCaptures([$capture->code])[$capture->code] ?? null;
        try {
            $document = null === $capture->redirectTo ? $this->content->document($capture) : Document::fromText('');
        } catch (WarcError) {
            // What cannot be read has its address and its title; a verification names it.
            $document = Document::fromText('');
        } catch (\Throwable $e) {
            // One page that nobody foresaw stops no other.
            $this->logger->error('The text of a capture cannot be read for the index.', ['capture' => $capture->code, 'exception' => $e]);
            $document = Document::fromText('');
        }
        $site = self::site($capture->url);
        $title = $said->title ?? '';
        $isNew = !$isChanged || null === $this->texts->of($id);
        $toRead = $isNew && null === $capture->redirectTo && self::showsSomething($capture, $document);
        $writing = Writing::ofDocument($document)->and($isNew ? [] : $this->readings->ofCapture($id))->about([
            '' === $document->title ? $capture->title ?? '' : '', $title, $said->why ?? '', ...($said->tags ?? []),
            self::address($capture),
        ]);
        $this->texts->stands($capture, $site, '' === $title ? $capture->title ?? $document->title : $title, $writing, $said->tags ?? [],
            $toRead);
        if ($toRead) {
            $this->bus->dispatch(new ReadCaptureFiles($id), [new TransportNamesStamp(['slow'])]);
        }
    }

    private function flush(): void
    {
        // Whatever waits is taken along, also what a killed worker left.
        while ($this->engine->isThere() && $this->entries->fill()) {
            continue;
        }
        $this->entities->clear();
    }

    /** Whether it may have words that it does not say: pictures, a recording, a scan. */
    private static function showsSomething(Capture $capture, Document $document): bool
    {
        return Writing::isOfPage($capture->mime ?? '')
            ? [] !== $document->pictures || ReadingIndexer::isThin($document)
            : 1 !== preg_match('#^text/#', $capture->mime ?? '') && FileWords::mayHave($capture->mime ?? '');
    }

    /** The words of an address, as somebody would ask for them. */
    private static function address(Capture $capture): string
    {
        return mb_strcut(mb_scrub(rawurldecode($capture->url)), 0, 2_000);
    }

    private static function site(string $url): string
    {
        return (string) preg_replace('/^www\./', '', Url::tryParse($url)->host ?? '');
    }
}
