<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Event\CatalogueEmptied;
use Ypomna\App\Catalogue\JoinedAddresses;
use Ypomna\App\Compare\Message\DrawLifelines;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Compare\Habits;
use Ypomna\Core\Compare\Lifelines;
use Ypomna\Core\Warc\WarcError;

/**
 * Lifelines of pages, kept as far as they are drawn; addresses that were joined share theirs. One more capture is added to what is there;
 * where captures came in between,
 * they are drawn anew.
 */
final readonly class LifelineRepository
{
    /** Captures that are added while somebody waits; more are left to a worker. */
    private const AT_ONCE = 12;
    private const PORTION = 40;
    /** Of an address with more captures, the newest ones. */
    private const MOST_CAPTURES = 2_000;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private CaptureMaintenance $captures,
        private CaptureContent $content,
        private JoinedAddresses $joined,
        private MessageBusInterface $bus,
    ) {
    }

    /** What changes at nearly every capture of that page, as far as it is drawn. */
    public function habits(Address $address): Habits
    {
        return $this->held($this->joined->ids(Viewer::system(), $address)[0])?->habits() ?? new Habits();
    }

    /**
     * @return array{Lifelines|null, int} the lines, and how many captures are not drawn yet; null while none is
     */
    public function of(Address $address): array
    {
        $ids = $this->joined->ids(Viewer::system(), $address);
        $id = $ids[0];
        [$lines, $missing] = $this->state($ids);
        if ([] !== $missing && \count($missing) <= self::AT_ONCE) {
            $lines = $this->draw($id, $lines ?? new Lifelines(), $missing);
            $missing = [];
        } elseif ([] !== $missing) {
            $this->bus->dispatch(new DrawLifelines((int) $address->id));
        }

        return [$lines, \count($missing)];
    }

    #[AsEventListener]
    public function onCatalogueEmptied(CatalogueEmptied $event): void
    {
        $this->database->executeStatement('DELETE FROM lifeline');
    }

    #[AsMessageHandler]
    public function drawLifelines(DrawLifelines $message): void
    {
        $address = $this->captures->address($message->address);
        if (null === $address) {
            return;
        }
        $ids = $this->joined->ids(Viewer::system(), $address);
        [$lines, $missing] = $this->state($ids);
        if ([] !== $missing) {
            $this->draw($ids[0], $lines ?? new Lifelines(), \array_slice($missing, 0, self::PORTION));
            $this->entities->clear();
        }
        if (\count($missing) > self::PORTION) {
            $this->bus->dispatch(new DrawLifelines($message->address));
        }
    }

    /**
     * @param non-empty-list<int> $addresses that share one history
     *
     * @return array{Lifelines|null, list<int>} what is drawn, and the captures that are to be added, in time
     */
    private function state(array $addresses): array
    {
        $ids = $this->captures->alive($addresses, self::MOST_CAPTURES);
        $lines = $this->held($addresses[0]);
        $drawn = array_column($lines?->captures() ?? [], 'id');

        return $drawn === \array_slice($ids, 0, \count($drawn)) ? [$lines, \array_slice($ids, \count($drawn))] : [null, $ids];
    }

    private function held(int $address): ?Lifelines
    {
        $packed = $this->database->fetchOne('SELECT packed FROM lifeline WHERE address_id = ?', [$address]);

        return \is_string($packed) ? Lifelines::unpack($packed) : null;
    }

    /** @param list<int> $captures */
    private function draw(int $address, Lifelines $lines, array $captures): Lifelines
    {
        foreach ($captures as $id) {
            $capture = $this->captures->capture($id);
            try {
                $passages = null === $capture ? [] : $this->content->document($capture)->passages;
            } catch (WarcError) {
                // A capture that cannot be read says nothing; a verification names it.
                $passages = [];
            }
            $lines->add($id, null === $capture ? '' : $capture->capturedAt->format('Y-m-d\TH:i:s\Z'), $passages);
        }
        TransactionRetry::transaction($this->database, fn () => $this->database->executeStatement(
            <<<'SQL'
                INSERT INTO lifeline (address_id, captures, packed)
                VALUES (?, ?, ?)
                ON DUPLICATE KEY UPDATE captures = VALUES(captures), packed = VALUES(packed)
                SQL,
            [$address, \count($lines->captures()), $lines->pack()],
        ));

        return $lines;
    }
}
