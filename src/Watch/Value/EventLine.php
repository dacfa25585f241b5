<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

use Ypomna\App\Shared\Row;

/** Something that a watch told. */
final readonly class EventLine
{
    private function __construct(
        public int $id,
        public string $watch,
        public string $watchName,
        public \DateTimeImmutable $at,
        public EventKind $kind,
        public ?string $url,
        public string $before,
        public string $after,
        public int $more,
        public ?string $captureBefore,
        public ?string $captureAfter,
        public bool $isNew,
        public ?string $hookSaid,
        public ?\DateTimeImmutable $hookedAt,
    ) {
    }

    /**
     * @param array<string, mixed> $values
     * @param int $seen number of the newest event that whoever reads has seen
     */
    public static function of(array $values, int $seen): self
    {
        $row = new Row($values);

        return new self(
            $row->int('id'), $row->text('watch_code'), $row->text('watch_name'), $row->moment('at'), EventKind::from($row->text('kind')),
            $row->textOrNull('url'), $row->text('said_before'), $row->text('said_after'), $row->int('more'),
            $row->textOrNull('capture_before'), $row->textOrNull('capture_after'),
            null === $row->textOrNull('seen_at') && $row->int('id') > $seen,
            $row->textOrNull('hook_said'), $row->momentOrNull('hooked_at'),
        );
    }
}
