<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Revolt\EventLoop;
use Revolt\EventLoop\Suspension;

/** Lets pages be judged side by side as long as they are small together: a large one waits until it is alone. */
final class PageScale
{
    private int $weighs = 0;
    /** @var list<Suspension<null>> */
    private array $waiting = [];

    public function __construct(private readonly int $most)
    {
    }

    /**
     * @template T
     *
     * @param \Closure(): T $act
     *
     * @return T
     */
    public function with(int $weight, \Closure $act): mixed
    {
        while ($this->weighs > 0 && $this->weighs + $weight > $this->most) {
            /** @var Suspension<null> $suspension */
            $suspension = EventLoop::getSuspension();
            $this->waiting[] = $suspension;
            $suspension->suspend();
        }
        $this->weighs += $weight;
        try {
            return $act();
        } finally {
            $this->weighs -= $weight;
            [$waiting, $this->waiting] = [$this->waiting, []];
            foreach ($waiting as $one) {
                $one->resume();
            }
        }
    }
}
