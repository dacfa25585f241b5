<?php

declare(strict_types=1);

namespace Ypomna\App\Archives\Value;

use Ypomna\App\Archives\Entity\OtherArchive;
use Ypomna\Core\Memento\HeldElsewhere;

/** What another archive says it holds of an address. */
final readonly class HeldByArchive
{
    /**
     * @param list<HeldElsewhere> $held newest first
     * @param string|null $error why it said nothing, or not all
     */
    public function __construct(public OtherArchive $archive, public array $held = [], public ?string $error = null)
    {
    }
}
