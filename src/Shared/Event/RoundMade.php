<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Event;

/** The schedule has made a round: whoever knows of something that may be due looks. It comes every few seconds. */
final readonly class RoundMade
{
}
