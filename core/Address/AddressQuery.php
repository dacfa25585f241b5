<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * What a person means who puts something into the one box: an address in any spelling, also in the middle of a citation; all
 * that lies under a host or folder, with `*`; or words.
 */
final readonly class AddressQuery
{
    private const MOST_WORDS = 12;
    private const IN_TEXT = '~(?:https?://|www\.)[^\s<>"«»“”]+|(?<![\w@.])(?:[\p{L}\p{N}-]+\.)+\p{L}{2,24}(?::\d+)?/[^\s<>"«»“”]*~iu';

    /**
     * @param Url|null $url an address
     * @param array{string, string}|null $range keys from the first to before the second
     * @param list<string> $words in lower case
     * @param list<int> $years that stand among the words
     */
    private function __construct(public ?Url $url, public ?array $range, public array $words, public array $years)
    {
    }

    /**
     * @throws InvalidAddress if it is neither an address nor words
     */
    public static function read(string $typed, ?KeyRules $rules = null): self
    {
        $typed = mb_strcut(trim(mb_scrub($typed)), 0, 8_192);
        if ('' === $typed) {
            throw InvalidAddress::because($typed, 'nothing was entered');
        }
        $range = str_contains($typed, '*') && 1 !== preg_match('/\s/', $typed) ? self::range($typed) : null;
        if (null !== $range) {
            return new self(null, $range, [], []);
        }
        if (1 !== preg_match('/\s/', trim($typed, '<>'))) {
            try {
                return new self(Url::typed($typed), null, [], []);
            } catch (InvalidAddress $e) {
                // With a scheme it was meant for an address, and what is wrong with it is worth saying.
                if (1 === preg_match('~^[a-z][a-z0-9+.-]*:|[/<>]~i', $typed)) {
                    throw $e;
                }
            }
        } elseif (1 === preg_match(self::IN_TEXT, $typed, $m)) {
            $url = self::plain($m[0]);
            if (null !== $url) {
                return new self($url, null, [], []);
            }
        }

        return self::words($typed);
    }

    /** Without what stands behind an address in a sentence; a bracket that was opened in it belongs to it. */
    private static function plain(string $text): ?Url
    {
        do {
            $before = $text;
            $text = rtrim($text, ".,;:!?'’…");
            foreach (['(' => ')', '[' => ']', '{' => '}'] as $open => $close) {
                if (str_ends_with($text, $close) && substr_count($text, $close) > substr_count($text, $open)) {
                    $text = substr($text, 0, -1);
                }
            }
        } while ($before !== $text);
        try {
            return Url::typed($text);
        } catch (InvalidAddress) {
            return null;
        }
    }

    /** @return array{string, string}|null */
    private static function range(string $typed): ?array
    {
        $text = (string) preg_replace('~^https?://~i', '', trim($typed, '<>'));
        $below = str_starts_with($text, '*.');
        if (1 !== preg_match('~^([^/*]+)(/[^*]*)?\*?$~D', $below ? substr($text, 2) : $text, $m)
            || ($below && isset($m[2]) && '/' !== $m[2])) {
            return null;
        }
        try {
            $url = Url::typed($m[1].($m[2] ?? '/'));
        } catch (InvalidAddress) {
            return null;
        }
        $host = Key::hostPrefix($url);
        if ($below) {
            // The host itself, and all that have its labels before their own.
            return [rtrim($host, ' ').' ', rtrim($host, ' ')."!\xFF"];
        }
        $prefix = $host.(null === $url->port ? '' : ':'.$url->port).$url->target();

        return [$prefix, $prefix."\xFF"];
    }

    private static function words(string $typed): self
    {
        preg_match_all('/[\p{L}\p{N}]+/u', mb_strtolower($typed), $m);
        $words = \array_slice(array_values(array_unique($m[0])), 0, self::MOST_WORDS);
        if ([] === $words) {
            throw InvalidAddress::because($typed, 'it holds neither an address nor a word');
        }
        $years = array_values(array_map(
            \intval(...), array_filter($words, static fn (string $word): bool => 1 === preg_match('/^(?:19[89]|20\d)\d$/D', $word)),
        ));

        return new self(null, null, $words, $years);
    }
}
