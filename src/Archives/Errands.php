<?php

declare(strict_types=1);

namespace Ypomna\App\Archives;

use Psr\Clock\ClockInterface;
use Revolt\EventLoop;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\WebAccess;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;

/** Requests to other archives, several at a time, each through the gateway; what they bring lies in a folder until all is done. */
final readonly class Errands
{
    private const USER_AGENT = 'Ypomna/0.1 (archive client; RFC 7089)';

    public function __construct(private WebAccess $web, private ClockInterface $clock, private string $folder)
    {
    }

    public function clean(): void
    {
        (new Filesystem())->remove($this->folder);
    }

    public function ask(Limits $limits): Ask
    {
        $folder = $this->folder.'/'.bin2hex(random_bytes(6));
        (new Filesystem())->mkdir($folder, 0o700);

        return new Ask(new Gateway($this->web->pathfinder($limits), $folder, $limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9), self::USER_AGENT);
    }

    /**
     * Runs tasks side by side until all have ended, or the time is over.
     *
     * @template T
     *
     * @param array<array-key, \Closure(): T> $tasks
     * @param int                             $atOnce how many at a time
     *
     * @return array<array-key, T|FetchFailed> what came of each
     */
    public static function together(array $tasks, float $seconds, int $atOnce = 8): array
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
