<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A place in an address's history, from which a list goes on. */
final readonly class CaptureMark
{
    public function __construct(public \DateTimeImmutable $at, public int $id)
    {
    }

    /** @return self|null null if the text is none */
    public static function parse(string $text): ?self
    {
        if (1 !== preg_match('/^(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6})_(\d{1,18})$/', $text, $m)) {
            return null;
        }

        return new self(new \DateTimeImmutable($m[1], new \DateTimeZone('UTC')), (int) $m[2]);
    }

    public static function of(\DateTimeImmutable $at, int $id): string
    {
        return $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u').'_'.$id;
    }
}
