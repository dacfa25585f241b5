<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** What a reader would see of a page that was kept, as far as it tells troubles. */
final readonly class PageSeen
{
    /**
     * @param string $url where it ended up
     * @param string $text all that can be read, UTF-8
     * @param string $html the document, UTF-8
     * @param int $substance pictures, films, drawings and frames that are large enough to be what a reader came for
     * @param bool $covered whether a layer that asks for consent covers much of the window
     * @param bool $grows whether it was still growing when scrolling was given up
     */
    public function __construct(
        public int $status,
        public string $asked,
        public string $url,
        public string $title,
        public string $text,
        public string $html,
        public int $substance = 0,
        public bool $covered = false,
        public bool $grows = false,
    ) {
    }

    /** Words that can be read; of scripts without blanks, two signs count as one. */
    public function words(): int
    {
        $ideographs = (int) preg_match_all('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]/u', $this->text);

        return (int) preg_match_all(
            '/[\p{L}\p{N}]+/u', (string) preg_replace('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]+/u', ' ', $this->text),
        ) + intdiv($ideographs, 2);
    }
}
