<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Http\Charset;

/** What a mail message says: who wrote to whom, of what, and the text of its parts (RFC 5322, RFC 2046). */
final class MailText
{
    private const FIELDS = ['Subject', 'From', 'To', 'Cc'];
    private const LONGEST_FIELD = 2_000;

    /**
     * @param int $most bytes of text that are taken
     *
     * @return list<array{string, string}> type, `text/plain` or `text/html`, and text in UTF-8, of each part; the fields come first
     */
    public static function of(Archive $archive, int $most): array
    {
        $fields = [];
        foreach (self::FIELDS as $name) {
            $value = trim(mb_scrub(Headers::decodeWords($archive->message?->headers->fields->get($name) ?? '')));
            if ('' !== $value) {
                $fields[] = mb_strcut($value, 0, self::LONGEST_FIELD);
            }
        }
        $texts = [['text/plain', implode("\n\n", $fields)]];
        foreach (self::shown($archive->parts) as $part) {
            $text = '';
            foreach ($archive->body($part) as $piece) {
                $text .= $piece;
                if (\strlen($text) >= $most) {
                    break;
                }
            }
            $text = mb_strcut($text, 0, $most);
            $most -= \strlen($text);
            $texts[] = [$part->headers->mime,
                mb_scrub(Charset::text($text, $part->headers->mime.'; charset='.($part->headers->charset() ?? '')))];
            if ($most <= 0) {
                break;
            }
        }

        return $texts;
    }

    /**
     * Of parts that say the same in several ways, the plain one.
     *
     * @param list<Entity> $parts
     *
     * @return list<Entity>
     */
    private static function shown(array $parts): array
    {
        $plain = [];
        foreach ($parts as $part) {
            if ('text/plain' === $part->headers->mime && 'multipart/alternative' === $part->parent?->headers->mime && $part->bytes > 0) {
                $plain[spl_object_id($part->parent)] = true;
            }
        }

        return array_values(array_filter($parts, static fn (Entity $part): bool => 'text/plain' === $part->headers->mime
            || ('text/html' === $part->headers->mime && (null === $part->parent || !isset($plain[spl_object_id($part->parent)])))));
    }
}
