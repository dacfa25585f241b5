<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/** Alters a page in ways that no reader sees. */
final class Noise
{
    public static function over(string $html, Chance $chance): string
    {
        // In a title, tags and comments are text.
        $end = (int) stripos($html, '</title>') + 8;
        [$head, $body] = [substr($html, 0, $end), substr($html, $end)];

        // Between tags only: what is in them is left alone.
        return $head
            .preg_replace_callback(
                '/>([^<>]{4,})</',
                static fn (array $m): string => '>'.self::text($m[1], $chance).'<',
                (string) preg_replace_callback(
                    '/<(p|div|li|td)>/',
                    static fn (array $m): string => 0 === $chance->between(0, 2)
                        ? '<'.$m[1].' class="k'.$chance->between(1, 99).'" data-x="1">'
                        : $m[0],
                    $body,
                ),
            );
    }

    private static function text(string $text, Chance $chance): string
    {
        return match ($chance->between(0, 8)) {
            0 => (string) preg_replace('/ /', "\u{A0}", $text, 1),
            1 => (string) preg_replace('/ /', "\n\t  ", $text, 2),
            2 => (string) preg_replace('/(\p{L})(\p{L})/u', "\$1\u{AD}\$2", $text, 1),
            3 => (string) preg_replace('/(\p{L})(\p{L})/u', "\$1\u{200B}\$2", $text, 1),
            4 => self::decomposed($text),
            5 => (string) preg_replace_callback('/(?<!&)\b\p{L}/u', static fn (array $m): string => '&#'.mb_ord($m[0]).';', $text, 1),
            6 => (string) preg_replace('/^(\s*)([^\s&;]+)/u', '$1<span>$2</span>', $text),
            7 => '<!-- made '.$chance->between(1, 999).' -->'.$text,
            default => $text,
        };
    }

    private static function decomposed(string $text): string
    {
        $decomposed = \Normalizer::normalize($text, \Normalizer::FORM_D);

        return \is_string($decomposed) ? $decomposed : $text;
    }
}
