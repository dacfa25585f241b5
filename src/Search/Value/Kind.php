<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** What a text belongs to; the numbers are those of the index. */
enum Kind: int
{
    case Page = 0;
    case Note = 1;
    case Excerpt = 2;
    case Mark = 3;
    case File = 4;
    case Item = 5;

    /** Numbers of what lies on the desk. */
    public const OF_ITEMS = [1, 2, 3, 4, 5];

    public function word(): string
    {
        return strtolower($this->name);
    }

    public static function named(string $word): ?self
    {
        foreach (self::cases() as $one) {
            if ($one->word() === $word) {
                return $one;
            }
        }

        return null;
    }
}
