<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Event\FileCatalogued;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Catalogue\TitleReader;
use Ypomna\App\Compare\Message\DescribeFile;
use Ypomna\App\Compare\Message\DrawLifelines;
use Ypomna\App\Shared\Row;

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
    /** Captures from which on a history teaches what is noise, and up to which it is drawn unasked. */
    private const TEACHES = 5;
    private const TOO_MANY = 300;

    public function __construct(private EntityManagerInterface $entities, private Connection $database, private TitleReader $titles, private ChangeMeter $meter, private Fingerprints $fingerprints, private HistorySummaries $summaries, private MessageBusInterface $bus)
    {
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
        $pages = $this->database->fetchFirstColumn('SELECT 1 FROM capture WHERE warc_file_id = ? LIMIT '.(self::FEW + 1), [$file]);
        if (\count($pages) <= self::FEW) {
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
    public function go(DescribeFile $message): void
    {
        $behind = $this->portion($message->file, $message->behind);
        if (null !== $behind) {
            $this->bus->dispatch(new DescribeFile($message->file, $behind));
        }
    }

    /** @return int|null place of the last page of the portion; null when there are no more */
    private function portion(int $file, int $behind): ?int
    {
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.id, c.response_offset, c.address_id, c.title IS NULL AS untitled, a.captures > 1 AND c.changed IS NULL AS unmeasured, c.captured_at = a.last_at AND a.captures BETWEEN '.self::TEACHES.' AND '.self::TOO_MANY.' AS newest FROM capture c JOIN address a ON a.id = c.address_id WHERE c.warc_file_id = ? AND c.response_offset > ? ORDER BY c.response_offset LIMIT '.self::PORTION,
            [$file, $behind],
        );
        foreach ($rows as $values) {
            $row = new Row($values);
            $behind = $row->int('response_offset');
            if (1 === $row->int('untitled')) {
                $this->title($row->int('id'));
            }
            if (1 === $row->int('unmeasured')) {
                $this->meter->measure($row->int('id'));
            }
            $this->fingerprints->take($row->int('id'));
            if (1 === $row->int('newest')) {
                // What changes at every capture of a page is learned from its lifelines.
                $this->bus->dispatch(new DrawLifelines($row->int('address_id')));
            }
        }
        if ([] !== $rows) {
            $this->summaries->drop();
        }
        // What was read is let go of: a file may hold any number of pages.
        $this->entities->clear();

        return self::PORTION === \count($rows) ? $behind : null;
    }

    private function title(int $id): void
    {
        $capture = $this->entities->find(Capture::class, $id);
        $title = null === $capture ? null : $this->titles->title($capture);
        if (null !== $title) {
            $this->database->update('capture', ['title' => $title], ['id' => $id]);
        }
    }
}
