<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** A text as the index takes it: words, parted by blanks, and what it is narrowed by. */
final readonly class IndexedText
{
    /**
     * @param array<string, string> $words by column: title, about, heads, main, rest
     * @param string $tags a line each
     * @param string $state what checks of its address say, in a word; '' of what has no address
     * @param bool $isAlone whether it is a page that has no other text
     */
    public function __construct(
        public int $id,
        public Kind $kind,
        public int $subject,
        public string $site,
        public string $language,
        public string $titled,
        public array $words,
        public Standing $standing,
        public string $tags = '',
        public string $state = '',
        public bool $isAlone = false,
    ) {
    }
}
