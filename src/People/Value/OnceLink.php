<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

use Ypomna\App\Shared\Role;

/** A link that holds once, and for a day. */
final readonly class OnceLink
{
    /**
     * @param int|null $person whose password it resets; null if it makes a person
     * @param Role|null $role of the person that it makes
     * @param string $madeBy name; '' if the system made it
     */
    public function __construct(
        public string $key,
        public LinkKind $kind,
        public ?int $person,
        public ?Role $role,
        public ?string $mail,
        public string $madeBy,
    ) {
    }
}
