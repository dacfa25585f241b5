<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Compare\Message\MeasureAgain;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Compare\Noise\Patience;

/** Measures the captures of an address, or of all addresses of a folder or host, anew, portion by portion. */
final readonly class Remeasuring
{
    private const PORTION = 50;

    public function __construct(private Connection $database, private EntityManagerInterface $entities, private ChangeMeter $meter, private HistorySummaries $summaries, private MessageBusInterface $bus)
    {
    }

    #[AsMessageHandler]
    public function go(MeasureAgain $message): void
    {
        $where = $message->isAddress ? 'a.url_key = ?' : 'a.url_key >= ? AND a.url_key < ?';
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.id FROM address a JOIN capture c ON c.address_id = a.id WHERE '.$where.' AND c.id > ? AND c.changed IS NOT NULL ORDER BY c.id LIMIT '.self::PORTION,
            [...($message->isAddress ? [$message->place] : [$message->place, $message->place."\xFF"]), $message->behind],
        );
        $behind = $message->behind;
        $patience = new Patience();
        foreach ($rows as $values) {
            $behind = (new Row($values))->int('id');
            $this->meter->measure($behind, $patience);
            // A rule that took too long over one takes no time over the others.
            $patience = $patience->again();
        }
        $this->entities->clear();
        if ([] !== $rows) {
            $this->summaries->drop();
        }
        if (self::PORTION === \count($rows)) {
            $this->bus->dispatch(new MeasureAgain($message->place, $message->isAddress, $behind));
        }
    }
}
