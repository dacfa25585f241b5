<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Event;

use Ypomna\App\Shared\Actor;

/** Somebody changed a setting that holds for everybody. It stands in the log of people. */
final readonly class SettingChanged
{
    /** @param string $what the name of the setting, and of what it is about */
    public function __construct(public Actor $by, public string $what)
    {
    }
}
