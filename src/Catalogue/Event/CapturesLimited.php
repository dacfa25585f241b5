<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Event;

/**
 * Captures are for some only from now on, or for everybody again. It is told within the transaction that makes it so; the transaction
 * may be tried again.
 */
final readonly class CapturesLimited
{
    /**
     * @param list<string> $codes of the captures
     * @param list<int> $addresses numbers of theirs
     * @param list<int> $files numbers of the files in which they stand
     * @param bool $areNew whether they come in with this: nobody has worked with them yet
     */
    public function __construct(
        public array $codes,
        public array $addresses,
        public array $files,
        public bool $limited,
        public bool $areNew,
    ) {
    }
}
