<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\CatalogueEmptied;
use Ypomna\App\Catalogue\Event\FileCatalogued;
use Ypomna\App\Desk\Message\CountWords;
use Ypomna\App\Shared\BulkInsert;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\Core\Page\KeyPhrases;
use Ypomna\Core\Warc\WarcError;

/**
 * On how many of the held pages each word stands: of each address its first capture counts. Workers count what came in; made again
 * from nothing, the counts are the same.
 */
final readonly class HeldWords
{
    private const PORTION = 50;
    /** Words of one page that are counted. */
    private const MOST = 1_500;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private CaptureMaintenance $captures,
        private CaptureContent $content,
        private MessageBusInterface $bus,
    ) {
    }

    /**
     * @param list<string> $words
     *
     * @return array{int, array<string, int>} how many pages were counted, and how many of them have each word
     */
    public function pagesWith(array $words): array
    {
        $pages = $this->database->fetchOne('SELECT pages FROM page_word_reach WHERE id = 1');
        $with = [];
        foreach (array_chunk($words, 2_000) as $some) {
            foreach ($this->database->fetchAllAssociative(
                'SELECT word, pages FROM page_word WHERE word IN (?)', [$some], [ArrayParameterType::STRING],
            ) as $values) {
                $row = new Row($values);
                $with[$row->text('word')] = $row->int('pages');
            }
        }

        return [is_numeric($pages) ? (int) $pages : 0, $with];
    }

    #[AsEventListener]
    public function onFileCatalogued(FileCatalogued $event): void
    {
        if ($event->captures > 0) {
            $this->bus->dispatch(new CountWords());
        }
    }

    #[AsEventListener]
    public function onCatalogueEmptied(CatalogueEmptied $event): void
    {
        $this->database->executeStatement('DELETE FROM page_word');
        $this->database->executeStatement('UPDATE page_word_reach SET behind = 0, pages = 0 WHERE id = 1');
    }

    #[AsMessageHandler]
    public function countWords(CountWords $message): void
    {
        $behind = $this->database->fetchOne('SELECT behind FROM page_word_reach WHERE id = 1');
        $ids = $this->captures->behind(is_numeric($behind) ? (int) $behind : 0, self::PORTION);
        foreach ($ids as $id) {
            $words = $this->captures->isFirst($id) ? $this->words($id) : null;
            TransactionRetry::transaction($this->database, fn () => $this->count($id, $words));
        }
        $this->entities->clear();
        if (self::PORTION === \count($ids)) {
            $this->bus->dispatch(new CountWords());
        }
    }

    /** @param list<string>|null $words null: it does not count */
    private function count(int $capture, ?array $words): void
    {
        $behind = $this->database->fetchOne('SELECT behind FROM page_word_reach WHERE id = 1 FOR UPDATE');
        if (!is_numeric($behind) || (int) $behind >= $capture) {
            // Another worker was here.
            return;
        }
        $rows = new BulkInsert(
            'page_word (word, pages)',
            function (string $sql): void {
                $this->database->executeStatement($sql.' ON DUPLICATE KEY UPDATE pages = pages + 1');
            },
        );
        $sorted = $words ?? [];
        // In one order, so that two workers do not wait for each other.
        sort($sorted);
        foreach ($sorted as $word) {
            $rows->add([$word, 1]);
        }
        $rows->flush();
        $this->database->executeStatement(
            'UPDATE page_word_reach SET behind = ?, pages = pages + ? WHERE id = 1', [$capture, null === $words ? 0 : 1],
        );
    }

    /** @return list<string>|null null if its text cannot be read */
    private function words(int $id): ?array
    {
        $capture = $this->captures->capture($id);
        try {
            return null === $capture ? null : KeyPhrases::words($this->content->document($capture), self::MOST);
        } catch (WarcError) {
            return null;
        }
    }
}
