<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Revolt\EventLoop;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/** Several things at a time on one event loop. */
final class Concurrently
{
    /** Longer than anything takes that is run without a limit, in seconds. */
    private const ANY_TIME = 86_400.0;

    /**
     * Runs tasks side by side until all have ended, however long that takes.
     *
     * @param list<\Closure(): void> $tasks
     */
    public static function pair(array $tasks): void
    {
        self::run($tasks, self::ANY_TIME, \count($tasks));
    }

    /**
     * Runs tasks side by side until all have ended, or the time is over.
     *
     * @template T
     *
     * @param array<array-key, \Closure(): T> $tasks
     * @param int $atOnce how many at a time
     *
     * @return array<array-key, T|FetchFailed> what came of each
     */
    public static function run(array $tasks, float $seconds, int $atOnce = 8): array
    {
        $done = [];
        $waiting = array_keys($tasks);
        $suspension = EventLoop::getSuspension();
        $main = $suspension;
        $ended = static function () use (&$main): void {
            [$awake, $main] = [$main, null];
            $awake?->resume();
        };
        $work = static function () use (&$done, &$waiting, $tasks, $ended): void {
            while (null !== ($name = array_shift($waiting))) {
                try {
                    $done[$name] = $tasks[$name]();
                } catch (FetchFailed $e) {
                    $done[$name] = $e;
                }
            }
            if (\count($done) === \count($tasks)) {
                $ended();
            }
        };
        if ([] !== $tasks) {
            for ($i = 0; $i < min($atOnce, \count($tasks)); ++$i) {
                EventLoop::queue($work);
            }
            $timer = EventLoop::delay($seconds, $ended);
            $suspension->suspend();
            EventLoop::cancel($timer);
            $waiting = [];
        }
        foreach (array_keys($tasks) as $name) {
            $done[$name] ??= new FetchFailed(FailureReason::Timeout, \sprintf('There was no answer within %d seconds.', $seconds));
        }

        return $done;
    }
}
