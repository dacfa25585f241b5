<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Desk\Entity\Dossier;

/** A list of contents with descriptions. */
final readonly class FindingAid
{
    /**
     * @param Dossier|null $dossier whose contents it lists; null: of chosen items
     * @param list<string>|null $items codes of those that were chosen
     * @param string|null $fixed what stood in it when it was made, in JSON; null of a living one
     * @param string|null $sha256 digest of that, in hex
     */
    public function __construct(
        public string $code,
        public string $title,
        public string $note,
        public ?Dossier $dossier,
        public ?array $items,
        public ?string $fixed,
        public ?string $sha256,
        public string $person,
        public \DateTimeImmutable $madeAt,
    ) {
    }

    public function isLiving(): bool
    {
        return null === $this->fixed;
    }
}
