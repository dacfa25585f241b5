<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

use Ypomna\App\Liveness\Value\LiveState;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Recurrence\Belief;
use Ypomna\Core\Recurrence\ChangeRate;
use Ypomna\Core\Recurrence\Observation;

/** A page of a watch, with what checks of it told. */
final readonly class WatchedPage
{
    /**
     * @param list<array{float, int}> $seen days and whether it changed, oldest first
     * @param array<string, mixed>|null $pending what is told when its capture is there
     */
    private function __construct(
        public int $id,
        public int $watchId,
        public int $liveId,
        public string $url,
        public \DateTimeImmutable $nextAt,
        public float $intervalDays,
        public ?\DateTimeImmutable $checkedAt,
        public ?\DateTimeImmutable $changedAt,
        public array $seen,
        public ?string $etag,
        public ?string $modified,
        public bool $isBlind,
        public bool $isGone,
        public ?string $jobCode,
        public ?array $pending,
        public ?string $trouble,
        public ?LiveState $live,
    ) {
    }

    /** @param array<string, mixed> $values */
    public static function of(array $values): self
    {
        $row = new Row($values);
        /** @var list<array{float, int}> $seen */
        $seen = json_decode($row->text('seen'), true);
        /** @var array<string, mixed>|null $pending */
        $pending = json_decode($row->textOrNull('pending') ?? 'null', true);

        return new self(
            $row->int('id'), $row->int('watch_id'), $row->int('live_id'), $row->text('live_url'), $row->moment('next_at'),
            $row->floatOrNull('interval_days') ?? 1.0, $row->momentOrNull('checked_at'), $row->momentOrNull('changed_at'),
            $seen, $row->textOrNull('etag'), $row->textOrNull('modified'), 1 === $row->int('is_blind'), 1 === $row->int('is_gone'),
            $row->textOrNull('job_code'), $pending, $row->textOrNull('trouble'),
            isset($values['live_checks']) ? LiveState::ofJoined($values) : null,
        );
    }

    /**
     * @return list<Observation>
     */
    public function observations(): array
    {
        return array_map(static fn (array $one): Observation => new Observation(max(1e-5, (float) $one[0]), 1 === $one[1]), $this->seen);
    }

    public function belief(): Belief
    {
        return Belief::after($this->observations());
    }

    /** @return ChangeRate|null null as long as it was not checked twice */
    public function rate(): ?ChangeRate
    {
        return [] === $this->seen ? null : ChangeRate::of($this->observations());
    }
}
