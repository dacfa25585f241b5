<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/**
 * Writes a page with its parts as one MHTML file (RFC 2557, on RFC 2387 and RFC 2045): the page first, every line ended
 * by CRLF, text in quoted-printable, all else in base64. The same page gives the same bytes.
 */
final class MhtmlWriter
{
    /** Source bytes of a line of base64 (RFC 2045 section 6.8 allows 76 characters). */
    private const BASE64_LINE = 57;

    /**
     * @param string $seed what makes the file's boundary its own: the same for the same page
     * @param iterable<Part> $parts the page's document first
     *
     * @return \Generator<int, string> the file in pieces
     */
    public static function write(string $title, \DateTimeImmutable $date, string $url, string $seed, iterable $parts): \Generator
    {
        $boundary = 'part-'.substr(hash('sha256', $seed), 0, 40);
        $first = true;
        foreach ($parts as $part) {
            if ($first) {
                $first = false;
                yield "From: <Saved by Ypomna>\r\nSnapshot-Content-Location: ".self::line($url)."\r\n".'Subject: '.self::encoded($title)
                    ."\r\n"
                    .'Date: '.$date->setTimezone(new \DateTimeZone('UTC'))->format('D, d M Y H:i:s O')."\r\nMIME-Version: 1.0\r\n"
                    ."Content-Type: multipart/related;\r\n\ttype=\""
                        .str_replace('"', '', self::line(trim(explode(';', $part->contentType)[0])))."\";\r\n\tboundary=\"".$boundary
                        ."\"\r\n\r\n";
            }
            // A part that says it is made of parts would bring its own under any name.
            $type = 1 === preg_match('#^\s*(?:multipart|message)/#i', $part->contentType)
                ? 'application/octet-stream'
                : self::line($part->contentType);
            yield "\r\n--".$boundary."\r\nContent-Type: ".$type."\r\nContent-Transfer-Encoding: "
                .($part->isText() ? 'quoted-printable' : 'base64')
                .(null === $part->id ? '' : "\r\nContent-ID: <".self::line($part->id).'>')."\r\nContent-Location: "
                    .self::line($part->location)."\r\n\r\n";
            yield from $part->isText() ? self::quotedPrintable(($part->body)()) : self::base64(($part->body)());
        }
        yield "\r\n--".$boundary."--\r\n";
    }

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function base64(iterable $pieces): \Generator
    {
        $pending = '';
        foreach ($pieces as $piece) {
            $pending .= $piece;
            $whole = \strlen($pending) - \strlen($pending) % self::BASE64_LINE;
            if ($whole > 0) {
                yield chunk_split(base64_encode(substr($pending, 0, $whole)), 76, "\r\n");
                $pending = substr($pending, $whole);
            }
        }
        if ('' !== $pending) {
            yield base64_encode($pending)."\r\n";
        }
    }

    /**
     * Line by line, so that neither a piece's end nor a line's end in the text can be lost (RFC 2045 section 6.7).
     *
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function quotedPrintable(iterable $pieces): \Generator
    {
        $pending = '';
        foreach ($pieces as $piece) {
            $pending .= $piece;
            $end = strrpos($pending, "\n");
            // A text without line ends is cut anywhere; a soft line break tells the reader to join it again.
            if (false === $end && \strlen($pending) > 65_536) {
                yield quoted_printable_encode($pending)."=\r\n";
                $pending = '';
            } elseif (false !== $end) {
                yield self::lines(substr($pending, 0, $end + 1));
                $pending = substr($pending, $end + 1);
            }
        }
        yield self::lines($pending);
    }

    /** Bare LF stays what it is: coded, since a line end in the file would be read as CRLF. */
    private static function lines(string $text): string
    {
        $out = '';
        foreach (explode("\r\n", $text) as $i => $line) {
            $out .= (0 === $i ? '' : "\r\n").str_replace('=0A', "=0A=\r\n", quoted_printable_encode($line));
        }

        return $out;
    }

    private static function line(string $value): string
    {
        return trim((string) preg_replace('/[\x00-\x1f\x7f-\xff]+/', ' ', $value));
    }

    /** Encoded words, RFC 2047. */
    private static function encoded(string $text): string
    {
        $text = trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', mb_strimwidth($text, 0, 200, '…')));

        return 1 === preg_match('/^[\x20-\x7e]*$/', $text) ? $text : mb_encode_mimeheader($text, 'UTF-8', 'Q', "\r\n");
    }
}
