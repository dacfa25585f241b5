<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Keeps for each act on items what was before, for whoever did it. */
final readonly class Undo
{
    private const KEPT = '-30 days';

    public function __construct(private Connection $database, private ClockInterface $clock)
    {
    }

    /**
     * @param array<int, array{from: string, to: string, was: array<string, mixed>}> $steps by number of the item: its state before and
     *     behind, and what was otherwise
     *
     * @return string its code
     */
    public function keep(Actor $actor, array $steps): string
    {
        $code = Codes::random();
        $now = $this->clock->now();
        $this->database->executeStatement(
            'DELETE FROM undo_step WHERE made_at < ? LIMIT 100', [MomentType::text($now->modify(self::KEPT))],
        );
        $this->database->insert('undo_step', [
            'code' => $code, 'person' => $actor->name, 'made_at' => MomentType::text($now),
            'items' => json_encode($steps, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_PRESERVE_ZERO_FRACTION),
        ]);

        return $code;
    }

    /**
     * Gives what is to be put back, once.
     *
     * @return array<int, array{from: string, to: string, was: array<string, mixed>}>|null null if there is no such act of that person
     */
    public function take(Actor $actor, string $code): ?array
    {
        $values = $this->database->fetchAssociative(
            'SELECT items FROM undo_step WHERE code = ? AND person = ? FOR UPDATE', [$code, $actor->name],
        );
        if (false === $values) {
            return null;
        }
        $this->database->delete('undo_step', ['code' => $code]);
        /** @var array<int, array{from: string, to: string, was: array<string, mixed>}> $steps */
        $steps = json_decode(Row::of($values)->text('items'), true, 64, \JSON_THROW_ON_ERROR);

        return $steps;
    }
}
