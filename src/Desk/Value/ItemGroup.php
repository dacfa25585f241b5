<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Desk\Entity\Dossier;

/** Items of one dossier, or of none. */
final readonly class ItemGroup
{
    /** @param list<ShownItem> $items */
    public function __construct(public ?Dossier $dossier, public array $items)
    {
    }
}
