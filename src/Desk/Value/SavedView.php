<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** A way to look at a dossier that somebody saved under a name. */
final readonly class SavedView
{
    public function __construct(
        public string $code,
        public string $name,
        public string $person,
        public bool $forAll,
        public DossierView $view,
    ) {
    }
}
