<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/** @internal */
final readonly class Token
{
    /**
     * @param string $name of a tag, in lower case; of a doctype its name and public identifier
     * @param array<array-key, string> $attributes by name in lower case, the first of each
     */
    public function __construct(
        public TokenKind $kind,
        public string $name,
        public string $text = '',
        public array $attributes = [],
        public bool $closesItself = false,
    ) {
    }
}
