<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** A place in a style sheet that names another file. */
final readonly class StyleReference
{
    /**
     * @param int $offset where it stands in the style sheet, in bytes
     * @param int $length of what is replaced when it is to lead elsewhere: a string with its marks, or a whole `url(…)`
     * @param string $value the address as it is meant, escapes undone
     * @param bool $isString whether a string stands there
     * @param int|null $oneOf the number of a group of which a browser takes one (the sources of a font, an image set); null if it stands
     *     alone
     * @param bool $isImported whether it is a further style sheet
     * @param bool $isFont whether it is a source of a font
     */
    public function __construct(
        public int $offset,
        public int $length,
        public string $value,
        public bool $isString,
        public ?int $oneOf = null,
        public bool $isImported = false,
        public bool $isFont = false,
    ) {
    }
}
