<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Shared\Refusal;

/** A dossier cannot lie in itself, nor in one that lies in it. */
final class Circle extends Refusal
{
}
