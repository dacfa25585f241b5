<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Value;

use Ypomna\App\Shared\Row;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\LiveVerdict;

/** How an address stands by all checks of it, as far as it was checked. */
final readonly class LiveState
{
    private function __construct(
        public int $id,
        public string $url,
        public int $checks,
        public ?LiveReason $reason,
        public bool $isFinal,
        /** How many checks, far enough apart to count, found it. */
        public int $agreeing,
        public float $confidence,
        public ?\DateTimeImmutable $since,
        public ?\DateTimeImmutable $seenAt,
        public ?\DateTimeImmutable $checkedAt,
        public ?\DateTimeImmutable $nextAt,
        public bool $isWanted,
    ) {
    }

    /** @param array<string, mixed> $values a row of `live_address` */
    public static function of(array $values): self
    {
        $row = new Row($values);

        return new self(
            $row->int('id'), $row->text('url'), $row->int('checks'), LiveReason::tryFrom($row->textOrNull('reason') ?? ''),
            1 === $row->int('is_final'), $row->int('agreeing'), $row->floatOrNull('confidence') ?? 0.0,
            $row->momentOrNull('since'), $row->momentOrNull('seen_at'), $row->momentOrNull('checked_at'), $row->momentOrNull('next_at'),
            null !== $row->textOrNull('wanted_at'),
        );
    }

    /**
     * @param array<string, mixed> $values a row with what {@see \Ypomna\App\Liveness\LiveSql::FIELDS} names
     */
    public static function ofJoined(array $values): self
    {
        $live = [];
        foreach ($values as $name => $value) {
            if (str_starts_with($name, 'live_')) {
                $live[substr($name, 5)] = $value;
            }
        }

        return self::of($live);
    }

    public function verdict(): ?LiveVerdict
    {
        return $this->reason?->verdict();
    }

    /** What a screen calls it: a verdict, or `not-seen` while *vanished* is not final. */
    public function word(): string
    {
        $verdict = $this->verdict();

        return null === $verdict ? 'unknown' : (LiveVerdict::Vanished === $verdict && !$this->isFinal ? 'not-seen' : $verdict->value);
    }
}
