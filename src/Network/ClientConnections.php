<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Revolt\EventLoop;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Errand;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Gateway;

/**
 * Connections over which one address after another is asked for without a browser, several side by side, each used again.
 *
 * @template T what belongs to a request
 */
final class ClientConnections
{
    /** @var array<string, list<array{Url, T}>> by origin */
    private array $waiting = [];
    /** @var array<string, int> connections by origin */
    private array $working = [];
    /** @var EventLoop\Suspension<null>|null */
    private ?EventLoop\Suspension $main = null;

    /**
     * @param \Closure(Url, T): string $request the bytes of a request
     * @param \Closure(Exchange, Url, T): void $came told of each exchange when it has ended; may ask for more
     */
    public function __construct(
        private readonly Gateway $gateway,
        private readonly int $perOrigin,
        private readonly int $atOnce,
        private readonly \Closure $request,
        private readonly \Closure $came,
    ) {
    }

    /** @param T $of */
    public function ask(Url $url, mixed $of): void
    {
        $origin = $url->origin();
        $this->waiting[$origin][] = [$url, $of];
        if (($this->working[$origin] ?? 0) < min($this->perOrigin, \count($this->waiting[$origin]))
            && array_sum($this->working) < $this->atOnce) {
            $this->working[$origin] = ($this->working[$origin] ?? 0) + 1;
            EventLoop::queue($this->connection(...), $origin, 'https' === $url->scheme);
        }
    }

    /**
     * Waits until all has come, or the time is over.
     *
     * @param float $until Unix time
     */
    public function work(float $until): void
    {
        if (0 === array_sum($this->working)) {
            return;
        }
        $suspension = EventLoop::getSuspension();
        $this->main = $suspension;
        $timer = EventLoop::delay(max(0.0, $until - microtime(true)), $this->ended(...));
        $suspension->suspend();
        EventLoop::cancel($timer);
        $this->waiting = [];
    }

    private function ended(): void
    {
        [$main, $this->main] = [$this->main, null];
        $main?->resume();
    }

    private function connection(string $origin, bool $tls): void
    {
        while ([] !== ($this->waiting[$origin] ?? [])) {
            /** @var OpenConnection<T> $held */
            $held = new OpenConnection();
            $next = function () use ($origin, $held): ?string {
                $this->done($held);
                $held->current = array_shift($this->waiting[$origin]);

                return null === $held->current ? null : ($this->request)(...$held->current);
            };
            $this->gateway->serve(
                new Errand($next), $tls, static function (Exchange $begun) use ($held): void { $held->exchange = $begun; },
            );
            // The connection ended with this one.
            $this->done($held);
        }
        --$this->working[$origin];
        foreach ($this->waiting as $other => $urls) {
            // Whoever had to wait for a connection gets this one's place.
            if ([] !== $urls && 0 === ($this->working[$other] ?? 0) && array_sum($this->working) < $this->atOnce) {
                $this->working[$other] = 1;
                EventLoop::queue($this->connection(...), $other, str_starts_with($other, 'https:'));
            }
        }
        if (0 === array_sum($this->working)) {
            $this->ended();
        }
    }

    /** @param OpenConnection<T> $held */
    private function done(OpenConnection $held): void
    {
        [$exchange, $current] = [$held->exchange, $held->current];
        $held->exchange = $held->current = null;
        if (null !== $exchange && null !== $current) {
            ($this->came)($exchange, ...$current);
        }
    }
}
