<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** Where a capture stands, as it is shown while it runs. */
enum CaptureStage: string
{
    /** In a list that has not come to it yet. */
    case Listed = 'listed';
    case Waiting = 'waiting';
    case Opening = 'opening';
    case Loading = 'loading';
    case Scrolling = 'scrolling';
    case Reading = 'reading';
    case Writing = 'writing';
    case Cataloguing = 'cataloguing';
    case Done = 'done';
    case Failed = 'failed';

    /** Share of the way, 0 to 100. */
    public function percent(): int
    {
        return match ($this) {
            self::Listed, self::Waiting => 0,
            self::Opening => 8,
            self::Loading => 20,
            self::Scrolling => 45,
            self::Reading => 65,
            self::Writing => 82,
            self::Cataloguing => 93,
            self::Done, self::Failed => 100,
        };
    }

    public function isFinal(): bool
    {
        return self::Done === $this || self::Failed === $this;
    }
}
