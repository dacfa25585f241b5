<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Html\CharacterReferences;
use Ypomna\Core\Matches;
use Ypomna\Core\Split;

/** Markdown, with footnotes as in `[^1]: …`. What stands in code is no reference. */
final readonly class MarkdownDraft implements Repairable
{
    /** Of a block, in bytes. */
    private const LONGEST = 8_192;
    private const MOST_NOTES = 100_000;
    private const ADDRESS = '(?:https?://|www\.)';
    private const ESCAPED = '\\\\[\x21-\x2F:-@\[-`{-\x7E]';
    /** A destination in angle brackets, and one without, whose parentheses are in pairs (CommonMark, section 6.3). */
    private const IN_ANGLES = '(?:[^<>\r\n\\\\]|'.self::ESCAPED.'|\\\\)*+';
    private const BARE = '(?:[^\s()\\\\<]|'.self::ESCAPED.'|\\\\|(\((?:[^\s()\\\\]++|'.self::ESCAPED.'|\\\\|(?-1))*+\)))';
    private const TITLE = '(?:"(?:[^"\\\\]|\\\\.)*"|\'(?:[^\'\\\\]|\\\\.)*\'|\((?:[^()\\\\]|\\\\.)*\))';
    /**
     * What is looked at from left to right to find code: escapes, what has addresses in it, and code, of which each begins where the one
     * before has ended (section 6.1: a back-tick in a destination or an autolink is none of code, one before a link takes it in).
     */
    private const CODE = '~'.self::ESCAPED.'|<'.self::ADDRESS.'[^\s<>]*+>|<a\s[^<>]*+>|\]\([ \t]*+(?:<'.self::IN_ANGLES.'>|(?:'.self::BARE
        .')++)'
        .'|^[ ]{0,3}\[(?!\^)[^\[\]\r\n]++\]:[ \t]*+\S++|(?<code>(?<!`)(?<ticks>`++)(?:[^`\r\n]++|\r?\n(?![ \t]*+\r?\n)|'
        .'(?!\k<ticks>(?!`))`++){0,250}+\k<ticks>(?!`))|`++~ims';
    private const LABEL = '\[((?:[^\[\]\\\\]++|\\\\.|\[[^\[\]]*+\])*+)\]';

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $source = $this->withoutCode($this->source);
        $order = $this->order($source);
        $stretches = new Gathered();
        foreach ($this->blocks($source) as [$at, $block]) {
            if ($stretches->isFull()) {
                break;
            }
            $note = 1 === preg_match('/^[ ]{0,3}\[\^([^\]\s]+)\]:[ \t]*/', $block, $m) ? $order[$m[1]] ?? $m[1] : null;
            $stretches->add($this->stretch($block, $at, $note, null === $note ? 0 : \strlen($m[0] ?? ''), $order));
        }

        return $stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        foreach ($repairs as $repair) {
            $beside = '('.$wording->archived.' '.$repair->day.'; '.$wording->original.' <'.$repair->original.'>)';
            [$at, $length, $end] = [$repair->place('at'), $repair->place('length'), $repair->place('end')];
            match ($repair->kind()) {
                'inline',
                'auto' => $splices->add(
                    $at, $end - $at, $repair->permanent.substr($this->source, $at + $length, $end - $at - $length).' '.$beside,
                ),
                // A definition has no place for words but its title.
                'definition' => $splices->add(
                    $at,
                    $end - $at,
                    $repair->permanent
                        .($end > $at + $length ? substr($this->source, $at + $length, $end - $at - $length) : ' "'.$wording->archived.' '
                            .$repair->day.'; '.$wording->original.' '.str_replace('"', '%22', $repair->original).'"'),
                ),
                'attribute' => $splices->add(
                    $at, $length, htmlspecialchars($repair->permanent).'" data-original="'.htmlspecialchars($repair->original),
                ),
                default => $splices->add($at, $length, '<'.$repair->permanent.'> '.$beside),
            };
        }
        $splices->write($this->source, $path);
    }

    /** The same text with code and front matter blanked out, byte for byte as long. */
    private function withoutCode(string $source): string
    {
        $blank = static fn (array $m): string => (string) preg_replace('/[^\r\n]/', ' ', \is_string($m[0] ?? null) ? $m[0] : '');
        $source = (string) preg_replace_callback('/\A---\r?\n.*?\r?\n(?:---|\.\.\.)\r?\n/s', $blank, $source);
        $source = (string) preg_replace_callback('/^[ ]{0,3}(```++|~~~++)[^\r\n]*+\r?\n.*?(?:^[ ]{0,3}\1[^\r\n]*$|\z)/ms', $blank, $source);

        return preg_replace_callback(
            self::CODE,
            static fn (array $m): string => isset($m['code']) ? $blank($m) : (string) $m[0],
            $source,
            flags: \PREG_UNMATCHED_AS_NULL,
        )
            ?? $source;
    }

    /**
     * @return array<string, string> numbers of the notes, by their names, in the order in which the text refers to them
     */
    private function order(string $source): array
    {
        $order = [];
        foreach (Matches::of('/\[\^([^\]\s]+)\](?!:)/', $source, self::MOST_NOTES) as $m) {
            $name = $m[1] ?? '';
            $order[$name] ??= (string) (\count($order) + 1);
        }

        return $order;
    }

    /**
     * @return \Generator<int, array{int, string}> where each begins, and its source
     */
    private function blocks(string $source): \Generator
    {
        $at = 0;
        foreach (Split::each(
            '/\r?\n(?:[ \t]*\r?\n)+|\r?\n(?=[ ]{0,3}\[[^\]\r\n]+\]:)|\r?\n(?=[ ]{0,3}(?:[-*+]|\d{1,9}[.)])[ \t])/', $source, $at,
        ) as $piece) {
            $within = 0;
            // What brackets there are is looked for from each of them on, so a block has to end somewhere.
            while (\strlen($piece) - $within > self::LONGEST) {
                $cut = strrpos(substr($piece, $within, self::LONGEST), "\n");
                $cut = false === $cut || 0 === $cut ? strrpos(substr($piece, $within, self::LONGEST), ' ') : $cut;
                $some = mb_strcut(substr($piece, $within, self::LONGEST + 8), 0, false === $cut || 0 === $cut ? self::LONGEST : $cut);
                yield [$at + $within, $some];
                $within += \strlen($some);
            }
            if ('' !== trim(substr($piece, $within))) {
                yield [$at + $within, substr($piece, $within)];
            }
        }
    }

    /** @param array<string, string> $order */
    private function stretch(string $block, int $offset, ?string $note, int $from, array $order): Stretch
    {
        $spots = $taken = [];
        $take = static function (
            string $kind,
            string $url,
            int $at,
            int $end,
            int $first,
            string $label,
        ) use (&$spots, &$taken, $offset): void {
            foreach ($taken as [$a, $b]) {
                if ($first < $b && $end > $a) {
                    return;
                }
            }
            $taken[] = [$first, $end];
            // A backslash that escapes nothing is one, not what browsers take it for.
            $written = match ($kind) {
                'auto' => str_replace('\\', '%5C', $url),
                'attribute' => CharacterReferences::inValue($url),
                default => CharacterReferences::inValue(str_replace(
                    '\\', '%5C', (string) preg_replace('/\\\\([\x21-\x2F:-@\[\]-`{-~])/', '$1', $url),
                )),
            };
            $spots[] = [
                $first,
                $end,
                $kind,
                $written,
                $label,
                ['kind' => $kind, 'at' => $offset + $at, 'length' => \strlen($url), 'end' => $offset + $end],
            ];
        };
        // [label](address "title")
        preg_match_all(
            '~'.self::LABEL.'\(\s*(?:<(?<angles>'.self::ADDRESS.self::IN_ANGLES.')>|(?<bare>'.self::ADDRESS.'(?:'.self::BARE.')*+))(?:\s+'
                .self::TITLE.')?\s*\)~iu',
            $block,
            $m,
            \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE | \PREG_UNMATCHED_AS_NULL,
        );
        foreach ($m as $one) {
            [$address, $begins] = null === ($one['angles'][0] ?? null) ? $one['bare'] ?? ['', 0] : $one['angles'];
            $take('inline', (string) $address, $begins, $one[0][1] + \strlen((string) $one[0][0]), $one[0][1], (string) ($one[1][0] ?? ''));
        }
        // [label]: address "title"
        preg_match_all(
            '~^[ ]{0,3}\[(?!\^)([^\[\]]+)\]:[ \t]*<?('.self::ADDRESS.'[^\s<>]+)>?(?:[ \t]+'.self::TITLE.')?[ \t]*$~imu',
            $block,
            $m,
            \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE,
        );
        foreach ($m as $one) {
            $take('definition', $one[2][0], $one[2][1], $one[0][1] + \strlen(rtrim($one[0][0])), $one[0][1], $one[1][0]);
        }
        preg_match_all('~<('.self::ADDRESS.'[^\s<>]+)>~iu', $block, $m, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE);
        foreach ($m as $one) {
            $take('auto', $one[1][0], $one[1][1], $one[0][1] + \strlen($one[0][0]), $one[0][1], $one[1][0]);
        }
        preg_match_all(
            '~<a\s[^<>]*?\bhref\s*=\s*"('.self::ADDRESS.'[^"<>]+)"[^<>]*>([^<]*)~iu', $block, $m, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE,
        );
        foreach ($m as $one) {
            $take('attribute', $one[1][0], $one[1][1], $one[0][1] + \strlen($one[0][0]), $one[0][1], $one[2][0]);
        }
        foreach (BareAddresses::in(mb_scrub($block)) as [$written, $at]) {
            $take('bare', $written, $at, $at + \strlen($written), $at, $written);
        }
        usort($spots, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return $this->plain($block, $spots, $note, $from, $order);
    }

    /**
     * @param list<array{int, int, string, string, string, array<string, int|string|list<int>|null>}> $found
     * @param array<string, string> $order
     */
    private function plain(string $block, array $found, ?string $note, int $from, array $order): Stretch
    {
        $text = '';
        $spots = $marks = [];
        $at = $from;
        $add = static function (string $piece) use (&$text, &$marks, $note, $order): void {
            foreach (Split::keeping('/\[\^([^\]\s]+)\]/', $piece) as $n => $part) {
                if (1 === $n % 2) {
                    if (null === $note) {
                        $marks[] = [\strlen($text), $order[$part] ?? $part];
                    }
                    continue;
                }
                $text .= (string) preg_replace(
                    [
                        '/(?<![\p{L}\p{N}\\\\])[*_]{1,3}(?=\S)|(?<=\S)[*_]{1,3}(?![\p{L}\p{N}])/u',
                        '/^#{1,6}[ \t]+/m',
                        '/\\\\([\\\\`*_{}\[\]()#+.!~>-])/',
                        '/[ \t]*\r?\n[ \t]*/',
                    ],
                    ['', '', '$1', ' '],
                    mb_scrub($part),
                );
            }
        };
        foreach ($found as [$first, $end, $kind, $url, $label, $place]) {
            if ($first < $at) {
                continue;
            }
            $add(substr($block, $at, $first - $at));
            $begins = \strlen($text);
            $add($label);
            $spots[] = new Spot($url, $begins, \strlen($text) - $begins, $label, $place);
            $at = $end;
        }
        $add(substr($block, $at));

        return new Stretch($text, $spots, $note, $marks);
    }
}
