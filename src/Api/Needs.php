<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Access\Right;
use Ypomna\App\People\Value\Scope;

/**
 * What a route of programs wants beside a token: a scope of it, and a right of its person. It is asked for behind what the route's address
 * names: what somebody may not see is not there, whatever their token reaches.
 */
#[\Attribute(\Attribute::TARGET_METHOD)]
final readonly class Needs
{
    /** @param Scope|null $scope null: any token will do */
    public function __construct(public ?Scope $scope, public Right $right = Right::Read)
    {
    }
}
