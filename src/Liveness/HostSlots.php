<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Revolt\EventLoop;

/**
 * Keeps this machine from asking one host for more than two things at once, whichever of its processes asks. A slot is a lock
 * on a file, so what a killed process held is free at once.
 */
final readonly class HostSlots
{
    public const MOST = 2;
    private const PAUSE = 0.02;
    /** Hosts share files, lest there be more and more of them; two that do wait for each other now and then. */
    private const BUCKETS = 16_384;

    public function __construct(private string $folder)
    {
    }

    /**
     * @template T
     *
     * @param \Closure(): T $act
     * @param float $seconds how long to wait for a slot at most
     *
     * @return T|null null if none came free in time
     */
    public function within(string $host, \Closure $act, float $seconds): mixed
    {
        $until = microtime(true) + $seconds;
        do {
            $slot = $this->slot($host);
            if (null !== $slot) {
                try {
                    return $act();
                } finally {
                    fclose($slot);
                }
            }
            $suspension = EventLoop::getSuspension();
            EventLoop::delay(self::PAUSE, static fn () => $suspension->resume());
            $suspension->suspend();
        } while (microtime(true) < $until);

        return null;
    }

    /** @return resource|null */
    private function slot(string $host)
    {
        if (!is_dir($this->folder)) {
            @mkdir($this->folder, 0o700, true);
        }
        for ($n = 0; $n < self::MOST; ++$n) {
            $file = @fopen($this->folder.'/'.(hexdec(substr(hash('sha256', $host), 0, 8)) % self::BUCKETS).'-'.$n, 'c');
            if (false === $file) {
                throw new \RuntimeException(\sprintf('The folder “%s” cannot be written to.', $this->folder));
            }
            if (flock($file, \LOCK_EX | \LOCK_NB)) {
                return $file;
            }
            fclose($file);
        }

        return null;
    }
}
