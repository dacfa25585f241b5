<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\FileCatalogued;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Catalogue\TitleReader;
use Ypomna\App\Compare\Message\DescribeFile;
use Ypomna\App\Compare\Message\DrawLifelines;

/**
 * What the catalogue has of a page beyond what its record says: its title, and how much it differs from its neighbours. Both
 * mean reading the page, so it comes after the file is in, portion by portion; whatever breaks it off, it goes on. What was
 * described already is passed over.
 */
final readonly class Describer
{
    private const PORTION = 50;
    /** Of larger files the pages are left to the workers. */
    private const FEW = 100;

    public function __construct(
        private EntityManagerInterface $entities,
        private CaptureMaintenance $captures,
        private TitleReader $titles,
        private ChangeMeter $meter,
        private Fingerprints $fingerprints,
        private HistorySummaries $summaries,
        private MessageBusInterface $bus,
    ) {
    }

    /** Describes all pages of that file. */
    public function file(int $file): void
    {
        for ($behind = -1; null !== $behind;) {
            $behind = $this->portion($file, $behind);
        }
    }

    /** Describes them if they are few; of many, the workers were told when the file came in. */
    public function few(int $file): void
    {
        if ($this->captures->hasAtMost($file, self::FEW)) {
            $this->file($file);
        }
    }

    #[AsEventListener]
    public function onFileCatalogued(FileCatalogued $event): void
    {
        if ($event->captures > self::FEW) {
            $this->bus->dispatch(new DescribeFile($event->file));
        }
    }

    #[AsMessageHandler]
    public function describeFile(DescribeFile $message): void
    {
        $behind = $this->portion($message->file, $message->behind);
        if (null !== $behind) {
            $this->bus->dispatch(new DescribeFile($message->file, $behind));
        }
    }

    /** @return int|null place of the last page of the portion; null when there are no more */
    private function portion(int $file, int $behind): ?int
    {
        $pages = $this->captures->toDescribe($file, $behind, self::PORTION);
        foreach ($pages as $page) {
            $behind = $page->offset;
            if ($page->needsTitle) {
                $this->title($page->id);
            }
            if ($page->needsMeasuring) {
                $this->meter->measure($page->id);
            }
            $this->fingerprints->take($page->id);
            if ($page->isNewest) {
                // What changes at every capture of a page is learned from its lifelines.
                $this->bus->dispatch(new DrawLifelines($page->addressId));
            }
        }
        if ([] !== $pages) {
            $this->summaries->drop();
        }
        // What was read is let go of: a file may hold any number of pages.
        $this->entities->clear();

        return self::PORTION === \count($pages) ? $behind : null;
    }

    private function title(int $id): void
    {
        $capture = $this->captures->capture($id);
        $title = null === $capture ? null : $this->titles->title($capture);
        if (null !== $title) {
            $this->captures->title($id, $title);
        }
    }
}
