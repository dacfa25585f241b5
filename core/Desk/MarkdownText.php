<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** Words as they stand in a document in Markdown, and nothing else than words (CommonMark 0.31, 2.4 and 2.5). */
final class MarkdownText
{
    /** Readers differ in which signs a backslash takes, but not in references; addresses are made links by some. */
    private const REFERENCES = ['&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '@' => '&#64;', '://' => '&#58;//'];

    /** On one line, with every sign that could mean something made to mean itself. */
    public static function escaped(string $text): string
    {
        $line = trim((string) preg_replace('/[\s\x00-\x1F\x7F\x{85}\x{2028}\x{2029}]+/u', ' ', mb_scrub($text)));

        return strtr((string) preg_replace('/[\\\\`*_{}\[\]()#+\-.!|~]/', '\\\\$0', $line), self::REFERENCES);
    }
}
