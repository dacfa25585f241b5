<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Shared\Refusal;

/** A dossier cannot be as it was asked for. */
final class CannotChange extends Refusal
{
}
