<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;

/** Somebody did something, at a moment. */
final readonly class Act
{
    /**
     * @param array<string, string> $values of the message that says it
     * @param Item|null $item with what, if it was an item
     */
    public function __construct(
        public int $id,
        public ActKind $kind,
        public string $person,
        public \DateTimeImmutable $at,
        public array $values,
        public ?Item $item,
        public ?Dossier $dossier,
    ) {
    }
}
