<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Second and third checks, which nobody has to ask for: where a page seems gone, or its server was not reached. */
final readonly class DueChecks
{
    private const MOST = 500;
    /** For how long a server that is not reached is asked again unasked, in days. */
    private const DAYS = 14;

    public function __construct(private Connection $database, private CheckQueue $queue, private ClockInterface $clock)
    {
    }

    /** @return int how many checks are wanted now */
    public function want(): int
    {
        $now = $this->clock->now();
        $ids = array_map(
            static fn (array $values): int => (new Row($values))->int('id'),
            $this->database->fetchAllAssociative(
                'SELECT id FROM live_address FORCE INDEX (live_address_next) WHERE next_at <= ? AND wanted_at IS NULL AND ((verdict ='
                    ." 'vanished' AND is_final = 0) OR (verdict = 'unreachable' AND since > ?)) ORDER BY next_at LIMIT "
                    .self::MOST,
                [MomentType::text($now), MomentType::text($now->modify('-'.self::DAYS.' days'))],
            ),
        );
        $this->queue->want($ids);

        return \count($ids);
    }
}
