<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What is to become of a dossier; what is not said stays as it is. */
final readonly class DossierChange
{
    /**
     * @param string|false|null $parent code of the dossier in which it lies; null for none; false: it stays where it is
     * @param Opening|false|null $open null: as the dossier in which it lies; false: it stays as it is
     * @param array<string, Part|null> $people parts by name; null for who belongs to it no longer
     * @param list<FieldDefinition>|null $fields that items in it have, in place of those before
     * @param string|null $template code of the one after which it is made
     */
    public function __construct(
        public ?string $name = null,
        public ?string $note = null,
        public string|false|null $parent = false,
        public Opening|false|null $open = false,
        public array $people = [],
        public ?array $fields = null,
        public ?string $template = null,
    ) {
    }
}
