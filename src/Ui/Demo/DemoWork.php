<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Demo;

use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\CheckQueuedAddressesHandler;
use Ypomna\App\Liveness\Message\CheckQueuedAddresses;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\App\Watch\WatchedPages;
use Ypomna\App\Watch\WatchEvaluator;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;

/** What the investigator of the demo does with her captures: she watches pages, has the holdings verified and exports some. */
final readonly class DemoWork
{
    private const NOTICE = 'http://www.saltmarch-ferries.test/safety/stern-door';
    private const TIMETABLE = 'http://www.saltmarch-ferries.test/timetable';
    private const RELEASE = 'http://www.saltmarch-ferries.test/press/petrel-dawn-update';
    /** Days on which the release is checked: far enough apart to count. */
    private const CHECKS = ['2025-01-20T09:00Z', '2025-01-22T09:00Z', '2025-01-22T18:00Z', '2025-01-25T09:00Z'];

    public function __construct(
        private DemoClock $clock,
        private CurrentPerson $person,
        private AddressRepository $addresses,
        private CaptureRepository $captures,
        private WatchRequests $watches,
        private WatchedPages $pages,
        private WatchEvents $events,
        private WatchEvaluator $evaluator,
        private CheckQueue $queue,
        private CheckQueuedAddressesHandler $checks,
        private Verifier $verifier,
        private Parcels $parcels,
    ) {
    }

    /** What lies in the past of the demo's day, in its order; leaves the clock there. */
    public function begin(): void
    {
        if ([] !== $this->events->events(Viewer::system())) {
            return;
        }
        $acts = [
            ...$this->vanishing(),
            ...$this->changes(self::NOTICE, 'Stern-door notice', new Condition(), '2024-11-12T09:00Z'),
            ...$this->changes(
                self::TIMETABLE, 'First sailing of Sound Heron', new Condition(ConditionKind::Cell, 'Sound Heron', 'Saltmarch'),
                '2024-11-12T09:30Z',
            ),
        ];
        usort($acts, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        foreach ($acts as [$moment, $act]) {
            $this->clock->set($moment);
            $act();
        }
        $events = $this->events->events(Viewer::system());
        // The two latest are new to the investigator; the others were seen and mailed long ago.
        $this->events->seen(Viewer::person($this->person->actor()->name, Role::Keeper), $events[2]->id ?? 0);
        $this->events->mailed($events[0]->id ?? 0);
    }

    /** What the workers do as soon as they run. */
    public function order(): void
    {
        $viewer = Viewer::system();
        $this->verifier->ask($this->person->actor());
        $address = $this->addresses->of($viewer, self::NOTICE);
        if (null !== $address) {
            $this->parcels->ask(Viewer::person($this->person->actor()->name, Role::Keeper), new ParcelOptions([], [$address->code], false));
        }
    }

    /**
     * A page that is checked until it counts as vanished.
     *
     * @return list<array{\DateTimeImmutable, \Closure(): void}> what is done when
     */
    private function vanishing(): array
    {
        $this->clock->set(new \DateTimeImmutable('2024-11-15T08:00Z'));
        $watch = $this->watch(self::RELEASE, 'Press release on Petrel Dawn', new Condition(ConditionKind::Vanishing));

        return array_map(fn (string $moment): array => [new \DateTimeImmutable($moment), function () use ($watch): void {
            $this->pages->hurry($watch, $this->clock->now());
            $this->queue->want(array_values($this->queue->ids(Viewer::nobody(), [Url::parse(self::RELEASE)])));
            ($this->checks)(new CheckQueuedAddresses());
        }], self::CHECKS);
    }

    /**
     * A watch that told of each change between the captures that were made since, on the day of the later one.
     *
     * @return list<array{\DateTimeImmutable, \Closure(): void}> what is done when
     */
    private function changes(string $url, string $name, Condition $condition, string $since): array
    {
        $since = new \DateTimeImmutable($since);
        $this->clock->set($since);
        $watch = $this->watch($url, $name, $condition);
        $page = $this->pages->pages($watch)[0] ?? null;
        $viewer = Viewer::system();
        $address = $this->addresses->of($viewer, $url);
        $captures = null === $address ? [] : $this->captures->aliveAround($viewer, $address, $since, 100);
        usort($captures, static fn (Capture $a, Capture $b): int => $a->capturedAt <=> $b->capturedAt);
        $acts = [];
        $before = null;
        foreach ($captures as $capture) {
            $notice = null === $before || $capture->capturedAt < $since
                ? null
                : $this->evaluator->notice($watch, $url, $before->code, $capture->code);
            if (null !== $notice && null !== $page) {
                $acts[] = [$capture->capturedAt, fn () => $this->events->enter(
                    $watch, EventKind::Changed, $page->id, $url, $notice, $before?->code, $capture->code,
                )];
            }
            $before = $capture;
        }

        return $acts;
    }

    private function watch(string $url, string $name, Condition $condition): Watch
    {
        return $this->watches->begin($this->person->actor(), Viewer::nobody(), new WatchWish(WatchScope::Address, $url, $name, $condition));
    }
}
