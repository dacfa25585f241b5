<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchedPage;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\Core\Recurrence\Belief;
use Ypomna\Core\Recurrence\ChangeNotice;

/**
 * What watches want done now. Checks that were missed while the installation stood still are due once, whatever their number;
 * they begin with what waited longest, so many at a time that servers and workers are not run over.
 */
final readonly class DueWatches
{
    private const AT_ONCE = 40;
    private const PLAN_EVERY = '15 minutes';

    public function __construct(
        private WatchedPages $pages,
        private WatchRequests $watches,
        private WatchEvaluator $evaluator,
        private WatchSettingsRepository $settings,
        private WatchEvents $events,
        private CheckQueue $queue,
        private EntityManagerInterface $entities,
        private Connection $database,
        private ClockInterface $clock,
    ) {
    }

    /** @return int how many checks are wanted */
    public function queueDue(): int
    {
        $now = $this->clock->now();
        $this->evaluator->gather();
        $this->remind($now);
        $this->watches->gatherAgain();
        $settings = $this->settings->read();
        if (null === $settings->plannedAt || $settings->plannedAt < $now->modify('-'.self::PLAN_EVERY) || $settings->plannedAt > $now) {
            $this->plan($settings->budget, $now);
        }
        $due = $this->pages->due($now, self::AT_ONCE);
        $this->queue->want($due);

        return \count($due);
    }

    /** Shares the budget out anew, by what is known of each page by now. */
    public function plan(float $budget, \DateTimeImmutable $now): void
    {
        $pages = iterator_to_array($this->pages->found(), false);
        $beliefs = array_map(static fn (WatchedPage $page): Belief => $page->belief(), $pages);
        $schedule = WatchEvaluator::schedule(max(0.1, $budget));
        $bound = [] === $beliefs ? 0.0 : $schedule->bound($beliefs);
        foreach ($pages as $n => $page) {
            $interval = $schedule->interval($beliefs[$n], $bound);
            if (null !== $page->checkedAt && abs($interval / max(1e-6, $page->intervalDays) - 1) > 0.05) {
                $this->pages->update(
                    $page->id,
                    [
                        'interval_days' => $interval,
                        'next_at' => MomentType::text($page->checkedAt->modify(\sprintf('+%d seconds', (int) (86_400 * $interval)))),
                    ],
                );
            }
        }
        $this->settings->planned($bound, $now);
    }

    private function remind(\DateTimeImmutable $now): void
    {
        $query = $this->entities->createQuery(\sprintf('SELECT w FROM %s w WHERE w.dueAt <= :now AND w.state <> :ended', Watch::class));
        $query->setParameter('now', $now, 'moment')->setParameter('ended', WatchState::Ended->value);
        $due = $query->setMaxResults(50)->getResult();
        foreach (\is_array($due) ? $due : [] as $watch) {
            if ($watch instanceof Watch
                && 1 === (int) $this->database->executeStatement(
                    'UPDATE watch SET due_at = NULL WHERE id = ? AND due_at IS NOT NULL', [$watch->id],
                )) {
                $this->events->enter(
                    $watch,
                    EventKind::Reminder,
                    null,
                    'address' === $watch->scope->value ? $watch->target : null,
                    new ChangeNotice('', $watch->dueNote),
                );
                $this->entities->detach($watch);
            }
        }
    }
}
