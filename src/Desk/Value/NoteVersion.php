<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** How a note read when somebody had written it. */
final readonly class NoteVersion
{
    /** @param string|null $note null where only a list of versions was asked for */
    public function __construct(
        public int $id,
        public string $person,
        public \DateTimeImmutable $at,
        public int $length,
        public ?string $note,
    ) {
    }
}
