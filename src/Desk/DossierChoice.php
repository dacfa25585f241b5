<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\ChosenDossier;
use Ypomna\App\Shared\Viewer;

/** Says for the rooms below whether somebody may lay something into a dossier. */
final readonly class DossierChoice implements ChosenDossier
{
    public function __construct(private DossierRepository $dossiers)
    {
    }

    public function mayLayInto(Viewer $viewer, string $code): bool
    {
        $dossier = $this->dossiers->byCode($viewer, $code);

        return $dossier instanceof Dossier && $this->dossiers->may($viewer, $dossier, Part::Writer);
    }
}
