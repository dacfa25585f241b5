<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\People\Value\Scope;

/** Which scope a token has to have for a route; {@see \Ypomna\App\Access\Allow} says beside it what its person has to be. */
#[\Attribute(\Attribute::TARGET_METHOD)]
final readonly class Needs
{
    public function __construct(public ?Scope $scope)
    {
    }
}
