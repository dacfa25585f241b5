<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\TerminateEvent;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** What somebody had open last: items, dossiers and captures. Only they are told. */
final readonly class Opened
{
    private const ROUTES = ['item' => 'item', 'dossier' => 'dossier', 'chronology' => 'dossier', 'read' => 'capture'];
    /** Of each person; the oldest go. */
    private const MOST = 50;

    public function __construct(
        private Connection $database,
        private ItemRepository $items,
        private DossierRepository $dossiers,
        private CaptureLists $captures,
        private CurrentPerson $person,
        private ClockInterface $clock,
    ) {
    }

    #[AsEventListener]
    public function noted(TerminateEvent $event): void
    {
        $request = $event->getRequest();
        $route = $request->attributes->get('_route');
        $code = $request->attributes->get('code');
        $kind = \is_string($route) ? self::ROUTES[$route] ?? null : null;
        if (null === $kind || !\is_string($code) || 200 !== $event->getResponse()->getStatusCode() || !$request->isMethod('GET')
            || FetchMetadataGuard::isFromElsewhere($request)) {
            return;
        }
        $name = $this->person->viewer()->name;
        if (null !== $name) {
            $this->note($name, $kind, $code);
        }
    }

    /**
     * As far as they still see it, the last one first.
     *
     * @return list<Item|Dossier|CaptureFacts>
     */
    public function of(Viewer $viewer, int $most): array
    {
        $rows = array_map(static fn (array $values): Row => new Row($values),
            null === $viewer->name ? [] : $this->database->fetchAllAssociative(
                'SELECT kind, code FROM opened WHERE person = ? ORDER BY opened_at DESC LIMIT '.max(1, $most), [$viewer->name],
            ));
        $codes = ['item' => [], 'dossier' => [], 'capture' => []];
        foreach ($rows as $row) {
            $codes[$row->text('kind')][] = $row->text('code');
        }
        $found = ['item' => [], 'dossier' => [], 'capture' => $this->captures->facts($viewer, $codes['capture'])];
        foreach ($this->items->byCodes($viewer, $codes['item']) as $item) {
            $found['item'][$item->code] = $item;
        }
        foreach ($this->dossiers->byCodes($viewer, $codes['dossier']) as $dossier) {
            $found['dossier'][$dossier->code] = $dossier;
        }
        $opened = [];
        foreach ($rows as $row) {
            $one = $found[$row->text('kind')][$row->text('code')] ?? null;
            if (null !== $one) {
                $opened[] = $one;
            }
        }

        return $opened;
    }

    private function note(string $person, string $kind, string $code): void
    {
        $this->database->executeStatement(
            'INSERT INTO opened (person, kind, code, opened_at) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE opened_at = VALUES(opened_at)',
            [$person, $kind, $code, MomentType::text($this->clock->now())],
        );
        $oldest = $this->database->fetchOne(
            'SELECT opened_at FROM opened WHERE person = ? ORDER BY opened_at DESC LIMIT 1 OFFSET '.self::MOST, [$person],
        );
        if (\is_string($oldest)) {
            $this->database->executeStatement('DELETE FROM opened WHERE person = ? AND opened_at <= ?', [$person, $oldest]);
        }
    }
}
