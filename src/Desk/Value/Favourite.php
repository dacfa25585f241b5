<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** Something that a person wants at hand, as it is now. */
final readonly class Favourite
{
    /**
     * @param string|null $title of the page, or name of the dossier; null if it has none
     * @param string|null $url null of a dossier
     * @param \DateTimeImmutable|null $at moment of a capture, or of an address's last one; null of a dossier
     * @param string|null $picture code of the capture whose picture shows it; null if there is none
     */
    public function __construct(
        public FavouriteKind $kind,
        public string $code,
        public bool $pinned,
        public ?string $title,
        public ?string $url,
        public ?\DateTimeImmutable $at,
        public ?string $picture,
    ) {
    }
}
