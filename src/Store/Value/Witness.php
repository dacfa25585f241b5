<?php

declare(strict_types=1);

namespace Ypomna\App\Store\Value;

use Ypomna\Core\Warc\WitnessStatement;

/** A copy of a page from somebody's own browser: what they say of it, and how it looked. */
final readonly class Witness
{
    /** @param string|null $picture path of a picture of the page */
    public function __construct(public WitnessStatement $statement, public ?string $picture = null)
    {
    }
}
