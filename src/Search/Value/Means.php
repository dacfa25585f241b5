<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

use Ypomna\Core\Search\Part;

/** How the words of a file were had; the numbers are those of the table. */
enum Means: int
{
    /** They stand in it. */
    case Written = 1;
    /** A machine read them in a picture. */
    case Seen = 2;
    /** A machine heard them. */
    case Heard = 3;

    public static function of(Part $part): self
    {
        return match ($part) {
            Part::Seen => self::Seen,
            Part::Heard => self::Heard,
            default => self::Written,
        };
    }

    public function word(): string
    {
        return strtolower($this->name);
    }

    public function part(): Part
    {
        return match ($this) {
            self::Written => Part::Main,
            self::Seen => Part::Seen,
            self::Heard => Part::Heard,
        };
    }
}
