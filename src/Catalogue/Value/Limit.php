<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** For whom a file is that is about to be entered in the catalogue. */
final readonly class Limit
{
    private function __construct(
        /** Who says that its captures are confidential; null if nobody does. */
        public ?string $maker,
        /** Code of the capture whose parts it brings; null if it brings captures of its own. */
        public ?string $partsOf,
        /** Code of the dossier that holds its captures; null if none does. */
        public ?string $dossier = null,
    ) {
    }

    public static function none(?string $dossier = null): self
    {
        return new self(null, null, $dossier);
    }

    /** @param string|null $dossier whose people may see it beside its maker */
    public static function confidential(string $maker, ?string $dossier = null): self
    {
        return new self($maker, null, $dossier);
    }

    /** It is seen by whoever sees that capture. */
    public static function partsOf(string $capture): self
    {
        return new self(null, $capture);
    }
}
