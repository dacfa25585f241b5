<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Whether a dossier can be chosen for something. `Desk` answers. */
interface ChosenDossier
{
    /** Whether there is one of that code, and somebody may lay something into it. */
    public function mayLayInto(Viewer $viewer, string $code): bool;
}
