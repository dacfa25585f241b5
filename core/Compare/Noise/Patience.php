<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

/**
 * How long the patterns of rules may take over one comparison. A pattern that takes longer is set aside: it passes over nothing any
 * more, so what it would have hidden is shown, and that is said.
 */
final class Patience
{
    /** Of one pattern, and of all together, in seconds. */
    private const EACH = 1.0;
    private const ALL = 2.0;

    /** @var array<string, float> */
    private array $spent = [];
    private float $spentByAll = 0.0;
    /** @var array<string, true> */
    private array $setAside = [];

    /** @param (\Closure(): float)|null $seconds a steady clock; null: the machine's */
    public function __construct(private readonly ?\Closure $seconds = null)
    {
    }

    /** For the next comparison of many: the time begins anew, what was set aside stays so. */
    public function again(): self
    {
        $again = new self($this->seconds);
        $again->setAside = $this->setAside;

        return $again;
    }

    /**
     * @param \Closure(): T $match
     *
     * @template T
     *
     * @return T|null null if the pattern was set aside
     */
    public function with(string $pattern, \Closure $match): mixed
    {
        if (isset($this->setAside[$pattern])) {
            return null;
        }
        $began = $this->now();
        $result = $match();
        $took = $this->now() - $began;
        $this->spent[$pattern] = ($this->spent[$pattern] ?? 0.0) + $took;
        $this->spentByAll += $took;
        if ($this->spent[$pattern] > self::EACH || $this->spentByAll > self::ALL) {
            $this->setAside[$pattern] = true;

            return null;
        }

        return $result;
    }

    /**
     * @return list<string> patterns that took too long
     */
    public function setAside(): array
    {
        return array_map(\strval(...), array_keys($this->setAside));
    }

    private function now(): float
    {
        return null === $this->seconds ? hrtime(true) / 1e9 : ($this->seconds)();
    }
}
