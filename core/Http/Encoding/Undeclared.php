<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

use Ypomna\Core\Matches;

/**
 * The encoding of a text that says nothing of it: UTF-8 if it is that but for a few faults, else what the detector makes of its letters,
 * checked against the language that the document names; else windows-1252, as browsers take it.
 */
final class Undeclared
{
    private const SAMPLE_BYTES = 262_144;
    private const UTF8 = '~[\xC2-\xDF][\x80-\xBF]|\xE0[\xA0-\xBF][\x80-\xBF]|[\xE1-\xEC\xEE\xEF][\x80-\xBF]{2}|\xED[\x80-\x9F][\x80-\xBF]'
        .'|\xF0[\x90-\xBF][\x80-\xBF]{2}|[\xF1-\xF3][\x80-\xBF]{3}|\xF4[\x80-\x8F][\x80-\xBF]{2}~';
    /** How many characters of UTF-8 stand against one wrong byte. */
    private const FAULTS = 10;
    private const UTF8_CUT = '~(?:[\xC2-\xDF]|[\xE0-\xEF][\x80-\xBF]?|[\xF0-\xF4][\x80-\xBF]{0,2})$~D';
    private const FOREIGN_SHARE = 0.02;
    private const DEFAULT = 'windows-1252';

    /** Encodings of a language, the usual one first, and the script that they are there for (HTML Standard, section 13.2.3.3). */
    private const LANGUAGES = [
        'ja' => [['shift_jis', 'euc-jp', 'iso-2022-jp'], '\p{Hiragana}\p{Katakana}\p{Han}'],
        'ko' => [['euc-kr'], '\p{Hangul}\p{Han}'],
        'zh-tw zh-hk zh-mo zh-hant' => [['big5', 'gb18030'], '\p{Han}'],
        'zh' => [['gb18030', 'big5'], '\p{Han}'],
        'ru be bg uk sr mk kk ky tg tt mn ba cv' => [
            ['windows-1251', 'koi8-r', 'koi8-u', 'ibm866', 'iso-8859-5', 'x-mac-cyrillic'], '\p{Cyrillic}',
        ],
        'el' => [['iso-8859-7', 'windows-1253'], '\p{Greek}'],
        'he iw yi' => [['windows-1255', 'iso-8859-8'], '\p{Hebrew}'],
        'ar fa ur ps' => [['windows-1256', 'iso-8859-6'], '\p{Arabic}'],
        'th' => [['windows-874'], '\p{Thai}'],
        'vi' => [['windows-1258'], null],
        'tr az' => [['windows-1254', 'iso-8859-3'], null],
        'lt lv et' => [['windows-1257', 'iso-8859-13', 'iso-8859-4'], null],
        'pl cs sk hu sl hr bs ro sq' => [['windows-1250', 'iso-8859-2'], null],
        'mt eo' => [['iso-8859-3'], null],
        'de en fr es it pt nl sv da nb nn no fi is ca ga eu gl af id ms' => [['windows-1252', 'iso-8859-15', 'macintosh'], null],
    ];

    /** Where a byte stands for a sign that only the other has: the bytes 0x80 to 0x9F are letters or quotation marks there. */
    private const WITH_QUOTES = [
        'iso-8859-2' => 'windows-1250', 'iso-8859-16' => 'windows-1250', 'iso-8859-6' => 'windows-1256', 'iso-8859-7' => 'windows-1253',
        'iso-8859-8' => 'windows-1255', 'iso-8859-13' => 'windows-1257', 'iso-8859-15' => 'windows-1252',
    ];

    /** @return string the name of an encoding */
    public static function guess(string $bytes): string
    {
        $sample = substr($bytes, 0, self::SAMPLE_BYTES);
        if (self::isUtf8($sample)) {
            return 1 === preg_match('~\x1B(?:\$[@B]|\([JI])~', $sample) ? 'iso-2022-jp' : 'utf-8';
        }
        $language = self::language($sample);
        $text = self::written($sample);
        $found = self::named(Detector::detect($text), $text);

        return null === $language ? self::fitting($found, $text) : self::checked($found, $text, ...self::LANGUAGES[$language]);
    }

    private static function isUtf8(string $sample): bool
    {
        if (mb_check_encoding($sample, 'UTF-8')) {
            return true;
        }
        // A character that is cut off at the end does not speak against it.
        $sample = (string) preg_replace(self::UTF8_CUT, '', $sample);
        $rest = preg_replace(self::UTF8, '', $sample, -1, $good) ?? $sample;

        return $good > self::FAULTS * (int) preg_match_all('~[\x80-\xFF]~', $rest);
    }

    /** @return string|null a key of LANGUAGES */
    private static function language(string $sample): ?string
    {
        if (1 !== preg_match(
            '~<(?:html|body)\b[^>]{0,400}?\slang\s*+=\s*+["\']?([a-z]{2,3}(?:-[a-z]+)*)~i', substr($sample, 0, 8_192), $found,
        )
            && 1 !== preg_match(
                '~<meta\s[^>]{0,100}?content-language["\']?\s[^>]{0,100}?content\s*+=\s*+["\']?([a-z]{2,3}(?:-[a-z]+)*)~i',
                substr($sample, 0, 8_192),
                $found,
            )) {
            return null;
        }
        $parts = explode('-', strtolower($found[1]));
        if ('en' === $parts[0] && self::isForeignToEnglish($sample)) {
            return null;
        }
        foreach (array_keys(self::LANGUAGES) as $languages) {
            $known = explode(' ', $languages);
            foreach (\array_slice($parts, 1) as $part) {
                if (\in_array($parts[0].'-'.$part, $known, true)) {
                    return $languages;
                }
            }
            if (\in_array($parts[0], $known, true)) {
                return $languages;
            }
        }

        return null;
    }

    /** Forms of English makers name English whatever is written into them: English hardly has letters beyond ASCII. */
    private static function isForeignToEnglish(string $sample): bool
    {
        $text = self::written($sample);

        return \strlen(self::high($text)) > self::FOREIGN_SHARE * max(200, (int) preg_match_all('/[a-z]/i', $text));
    }

    /** Without what is markup, whose letters are those of no language. */
    private static function written(string $sample): string
    {
        [$text, $at] = ['', 0];
        while (1 === preg_match('~<(script|style)\b[^<>]*+>~i', $sample, $opened, \PREG_OFFSET_CAPTURE, $at)) {
            $text .= substr($sample, $at, $opened[0][1] - $at);
            $end = stripos($sample, '</'.$opened[1][0], $opened[0][1]);
            $at = false === $end ? \strlen($sample) : $end;
        }
        $text = preg_replace('~<[^<>]*+>~', ' ', $text.substr($sample, $at)) ?? $sample;

        return 1 === preg_match('/[\x80-\xFF]/', $text) ? $text : $sample;
    }

    private static function named(?string $found, string $text): string
    {
        $encoding = Labels::encoding($found ?? '') ?? match ($found) {
            'UHC' => 'euc-kr',
            'IBM855', 'IBM866' => 'ibm866',
            'MAC-CYRILLIC' => 'x-mac-cyrillic',
            'MAC-CENTRALEUROPE' => 'windows-1250',
            default => self::DEFAULT,
        };
        if (1 === preg_match('/[\x80-\x9F]/', $text)) {
            $encoding = self::WITH_QUOTES[$encoding] ?? $encoding;
        }

        return match (true) {
            'gbk' === $encoding => 'gb18030',
            // Its letters with a comma below are the same bytes as those with a cedilla, which are the usual ones.
            'iso-8859-16' === $encoding => 'iso-8859-2',
            // At the place of rules and blocks the Ukrainian letters.
            'koi8-r' === $encoding && 1 === preg_match('/[\xC0-\xFF][\xA4\xA6\xA7\xAD]|[\xA4\xA6\xA7\xAD][\xC0-\xFF]/', $text) => 'koi8-u',
            // Ά is 0xA2 in the one and 0xB6 in the other, where the other has a quotation mark or the sign of a paragraph.
            'iso-8859-7' === $encoding && 1 === preg_match('/(?<![\xC1-\xFE])\xA2[\xE1-\xFE]/', $text) => 'windows-1253',
            default => $encoding,
        };
    }

    /** Of Latin encodings, the usual one wherever it says the same or the letters are too few to tell. */
    private static function fitting(string $found, string $text): string
    {
        if (!self::isLatin($found)) {
            return self::faults($found, $text) > 0.05 ? self::DEFAULT : $found;
        }
        $unlike = 0;
        foreach (array_count_values(mb_str_split(self::high($text), 1, '8bit')) as $byte => $count) {
            $unlike += Decoder::decode((string) $byte, $found) === Decoder::decode((string) $byte, self::DEFAULT) ? 0 : $count;
        }

        return $unlike < 2 ? self::DEFAULT : $found;
    }

    /** @param list<string> $encodings */
    private static function checked(string $found, string $text, array $encodings, ?string $script): string
    {
        $faults = self::faults($found, $text);
        if (\in_array($found, $encodings, true)) {
            return $found;
        }
        // Some languages are written in Latin letters, too.
        if (null !== $script && self::isLatin($found) && 2 * \strlen(self::high($text)) < (int) preg_match_all('/[a-z]/i', $text)) {
            return self::fitting($found, $text);
        }
        // A page may name the language of its maker’s forms: letters that are plainly another script’s are believed.
        if (!self::isLatin($found) && (null === $script) && $faults < 0.02) {
            return $found;
        }
        foreach ($encodings as $encoding) {
            $read = Decoder::decode(self::highWords($text), $encoding);
            $letters = (int) preg_match_all('/[^\x00-\x7F]/u', $read);
            $known = (int) preg_match_all(null === $script ? '/[^\x00-\x7F\x{FFFD}]/u' : '/['.$script.']/u', $read);
            if ($letters > 0 && $known / $letters > (null === $script ? 0.98 : 0.6) && !str_contains($read, "\u{FFFD}\u{FFFD}")) {
                return $encoding;
            }
        }

        return $found;
    }

    private static function isLatin(string $encoding): bool
    {
        return !\in_array($encoding, array_merge(...array_map(
            static fn (array $language): array => null === $language[1] ? [] : $language[0],
            array_values(self::LANGUAGES),
        )), true);
    }

    /** @return float how many of the characters beyond ASCII cannot be read, 0 to 1 */
    private static function faults(string $encoding, string $text): float
    {
        $read = Decoder::decode($text, $encoding);
        $all = (int) preg_match_all('/[^\x00-\x7F]/u', $read);

        return 0 === $all ? 0.0 : substr_count($read, "\u{FFFD}") / $all;
    }

    private static function high(string $text): string
    {
        return (string) preg_replace('/[\x00-\x7F]++/', '', $text);
    }

    /** With what stands right beside them: the second byte of a character may be ASCII. */
    private static function highWords(string $text): string
    {
        $words = iterator_to_array(Matches::of('/[\x80-\xFF][\x21-\xFF]*+/', $text), false);

        return implode(' ', array_map(static fn (array $found): string => $found[0], $words));
    }
}
