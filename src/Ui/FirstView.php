<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Psr\Clock\ClockInterface;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\RememberedChoices;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\HoldingsTotals;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTodos;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\WatchEvents;

/** What the first screen shows. */
final readonly class FirstView
{
    private const RECENT = 12;
    private const NEWS = 4;
    /** So long a failure is told here. */
    private const FAILED_SINCE = '-14 days';

    public function __construct(
        private AddressRepository $addresses,
        private HoldingsTotals $totals,
        private JobList $jobs,
        private RememberedChoices $choices,
        private WatchEvents $events,
        private ItemRepository $items,
        private ItemTodos $todos,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @return array<string, mixed>
     */
    public function view(Actor $actor, Viewer $viewer): array
    {
        return [
            'recent' => $this->addresses->recent($viewer, self::RECENT), 'totals' => $this->totals->of($viewer),
            'jobs' => $this->jobs->open($viewer),
            'failed' => $this->jobs->failed($viewer, $this->clock->now()->modify(self::FAILED_SINCE), self::NEWS),
            'events' => $this->events->events($viewer, new: true, most: self::NEWS),
            'unseen' => $this->events->unseen($viewer),
            'due' => $this->due($viewer), 'todos' => $this->todos->all($viewer, true, most: self::NEWS),
            'chosen' => $this->choices->last($actor),
        ];
    }

    /** @return list<ShownItem> what somebody made that is due today or was before */
    private function due(Viewer $viewer): array
    {
        return $this->items->shown($viewer, null === $viewer->name ? [] : $this->items->list($viewer, new ItemQuery(
            dueBefore: $this->clock->now()->modify('+1 day'), by: $viewer->name, order: ItemOrder::Due, most: self::NEWS,
        )));
    }
}
