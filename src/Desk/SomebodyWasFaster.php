<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Shared\Refusal;

/** A dossier was changed by somebody else since it was read; nothing was saved. */
final class SomebodyWasFaster extends Refusal
{
}
