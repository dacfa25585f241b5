<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

use Ypomna\Core\Http\MessageHead;

/** What was asked of the stand-in web. */
final readonly class Request
{
    public function __construct(
        public string $host,
        public bool $tls,
        public string $method,
        public string $path,
        public string $query,
        public MessageHead $head,
        public string $body,
        public \DateTimeImmutable $now,
    ) {
    }

    /** Whether the stand-in's clock has reached that moment. */
    public function since(string $moment): bool
    {
        return $this->now >= new \DateTimeImmutable($moment, new \DateTimeZone('UTC'));
    }

    /**
     * The value whose date was reached last.
     *
     * @template T
     *
     * @param array<string, T> $byDate from the earliest on; the first holds for everything before, too
     *
     * @return T
     */
    public function at(array $byDate): mixed
    {
        $current = reset($byDate);
        foreach ($byDate as $moment => $value) {
            if ($this->since($moment)) {
                $current = $value;
            }
        }
        \assert(false !== $current);

        return $current;
    }
}
