<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** The table in which Tesseract tells the words of a picture (its TSV output): a row a word, with its place and how sure it is. */
final class PictureTable
{
    /** Words of which it is less sure, of 100, are not taken: shades and edges are read as letters, too. */
    private const SURE = 50.0;
    private const COLUMNS = 12;
    private const LONGEST = 1_048_576;

    /** @return list<string> paragraphs in reading order */
    public static function paragraphs(string $table): array
    {
        $paragraphs = [];
        $length = 0;
        foreach (explode("\n", mb_scrub($table)) as $line) {
            $row = explode("\t", rtrim($line, "\r"), self::COLUMNS);
            $word = trim($row[11] ?? '');
            if (self::COLUMNS !== \count($row) || '5' !== $row[0] || '' === $word || !is_numeric($row[10])
                || (float) $row[10] < self::SURE) {
                continue;
            }
            $length += \strlen($word);
            if ($length > self::LONGEST) {
                break;
            }
            $paragraphs[$row[1].' '.$row[2].' '.$row[3]][$row[4]][] = $word;
        }
        $texts = [];
        foreach ($paragraphs as $lines) {
            $text = '';
            foreach ($lines as $words) {
                $line = implode(' ', $words);
                // A word that is parted at the end of its line is one.
                $text = 1 === preg_match('/\p{L}-$/Du', $text) && 1 === preg_match('/^\p{Ll}/u', $line)
                    ? substr($text, 0, -1).$line : $text.('' === $text ? '' : ' ').$line;
            }
            // What has no word of two letters or signs is no text.
            if (1 === preg_match('/[\p{L}\p{N}]{2}|\p{Lo}/u', $text)) {
                $texts[] = $text;
            }
        }

        return $texts;
    }
}
