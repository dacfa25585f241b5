<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** Decides who may do what, and who may see what. Nothing else in the house asks for a role. */
final readonly class Gate
{
    /** @param Grants|null $grants asked whether there is anything at all that was granted to somebody; null if not worth a question */
    public function __construct(private ?Grants $grants = null)
    {
    }

    public function may(Viewer $viewer, Right $right): bool
    {
        if ($viewer->isSystem()) {
            return true;
        }

        return match ($viewer->role) {
            null => false,
            Role::Reader => Right::Read === $right,
            Role::Keeper => Right::Read === $right || Right::Keep === $right,
            Role::Custodian => Right::Administer !== $right,
            // Whoever runs the house does not see what is confidential by that alone.
            Role::Administrator => Right::Guard !== $right,
        };
    }

    /** What somebody may see of what is limited to some. */
    public function sight(Viewer $viewer): Sight
    {
        $all = $viewer->isSystem() || Role::Custodian === $viewer->role;
        // To most people nothing was granted: then no row has to be looked up.
        $some = !$all && null !== $viewer->name && true === ($this->grants?->toAnything($viewer->name) ?? true);

        return new Sight($all, $some ? $viewer->name : null);
    }
}
