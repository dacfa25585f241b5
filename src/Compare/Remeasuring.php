<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Compare\Message\MeasureAgain;
use Ypomna\Core\Compare\Noise\Patience;

/** Measures the captures of an address, or of all addresses of a folder or host, anew, portion by portion. */
final readonly class Remeasuring
{
    private const PORTION = 50;

    public function __construct(
        private CaptureMaintenance $captures,
        private EntityManagerInterface $entities,
        private ChangeMeter $meter,
        private HistorySummaries $summaries,
        private MessageBusInterface $bus,
    ) {
    }

    /** What everybody sees is measured against what everybody sees: the captures behind those that come or go are measured anew. */
    #[AsEventListener]
    public function onCapturesLimited(CapturesLimited $event): void
    {
        foreach ($event->areNew ? [] : $this->captures->addresses($event->addresses) as $address) {
            $this->bus->dispatch(new MeasureAgain($address['key'], true));
        }
    }

    #[AsMessageHandler]
    public function measureAgain(MeasureAgain $message): void
    {
        $captures = $this->captures->measured($message->place, $message->isAddress, $message->behind, self::PORTION);
        $behind = $message->behind;
        $patience = new Patience();
        foreach ($captures as $capture) {
            $behind = $capture;
            $this->meter->measure($behind, $patience);
            // A rule that took too long over one takes no time over the others.
            $patience = $patience->again();
        }
        $this->entities->clear();
        if ([] !== $captures) {
            $this->summaries->drop();
        }
        if (self::PORTION === \count($captures)) {
            $this->bus->dispatch(new MeasureAgain($message->place, $message->isAddress, $behind));
        }
    }
}
