<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** What became of a message. */
final readonly class TakenMail
{
    /**
     * @param string|null $person in whose name it was taken in; null if it waits
     * @param array<string, string> $jobs codes of captures by address
     * @param list<array{string, string|null}> $files names, and codes of their work; null of what could not be taken in
     * @param string|null $waits where it lies, if nobody here has sent it
     * @param array<string, string> $refused why addresses were not captured
     */
    public function __construct(
        public ?string $person,
        public array $jobs,
        public array $files,
        public ?string $waits,
        public array $refused = [],
    ) {
    }
}
