<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A bibliography in the format of BibTeX, and of biblatex. */
final readonly class BibDraft implements Repairable
{
    private const LINKS = ['url', 'howpublished', 'note', 'addendum', 'annote', 'eprint', 'link'];
    private const SHOWN = [
        'author', 'editor', 'title', 'journal', 'journaltitle', 'booktitle', 'publisher', 'organization', 'institution', 'year', 'date',
        'note', 'abstract', 'annote',
    ];

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $stretches = new Gathered();
        foreach ($this->entries() as [$key, $fields, $end]) {
            if ([] === array_intersect_key($fields, array_flip(self::LINKS))) {
                continue;
            }
            if ($stretches->isFull()) {
                break;
            }
            $text = '';
            foreach (self::SHOWN as $name) {
                if (isset($fields[$name]) && [] === BareAddresses::in($fields[$name][0])) {
                    $text .= ('' === $text ? '' : '. ').self::plain($fields[$name][0]);
                }
            }
            $spots = [];
            foreach (self::LINKS as $name) {
                foreach (self::addresses($fields[$name][0] ?? '') as [$written, $at]) {
                    $address = stripslashes(str_replace(
                        ['\\_', '\\%', '\\&', '\\#', '\\~{}', '{\\textasciitilde}'], ['_', '%', '&', '#', '~', '~'], $written,
                    ));
                    $text .= ' ';
                    $spots[] = new Spot(
                        $address,
                        \strlen($text),
                        \strlen($address),
                        self::plain($fields['title'][0] ?? $address),
                        ['kind' => 'field', 'at' => ($fields[$name][1] ?? 0) + $at, 'length' => \strlen($written), 'end' => $end],
                    );
                    $text .= $address;
                }
            }
            $stretches->add(new Stretch(
                $text,
                $spots,
                $key,
                [],
                self::day($fields['urldate'][0] ?? $fields['lastaccessed'][0] ?? $fields['lastchecked'][0] ?? $fields['accessed'][0] ?? ''),
            ));
        }

        return $stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        $beside = [];
        foreach ($repairs as $repair) {
            $splices->add($repair->place('at'), $repair->place('length'), str_replace(['%', '#'], ['\\%', '\\#'], $repair->permanent));
            $beside[$repair->place('end')][] = ucfirst($wording->archived).' '.$repair->day.'; '.$wording->original.' \\url{'
                .$repair->original.'}';
        }
        foreach ($beside as $end => $notes) {
            $before = rtrim(substr($this->source, 0, $end));
            $splices->add(\strlen($before), 0, (str_ends_with($before, ',') ? '' : ',')."\n  addendum = {".implode('; ', $notes).'}');
        }
        $splices->write($this->source, $path);
    }

    /**
     * @return \Generator<int, array{string, array<string, array{string, int}>, int}> key, fields with where their values begin, and where
     *     the entry's closing brace is
     */
    private function entries(): \Generator
    {
        $at = 0;
        while (1 === preg_match('/@\s*([a-z]+)\s*[{(]/i', $this->source, $m, \PREG_OFFSET_CAPTURE, $at)) {
            $at = $m[0][1] + \strlen($m[0][0]);
            if (\in_array(strtolower($m[1][0]), ['comment', 'preamble', 'string'], true)
                || 1 !== preg_match('/\s*([^\s,{}()"=]*)\s*,/A', $this->source, $key, 0, $at)) {
                continue;
            }
            $at += \strlen($key[0]);
            $fields = [];
            while (1 === preg_match('/\s*,?\s*([a-z][\w:+.-]*)\s*=\s*/Ai', $this->source, $name, 0, $at)) {
                $at += \strlen($name[0]);
                $begins = $at;
                $value = $this->value($at);
                if (null === $value) {
                    break;
                }
                $fields[strtolower($name[1])] ??= [$value, $begins];
            }
            preg_match('/[\s,]*/A', $this->source, $rest, 0, $at);
            yield [$key[1], $fields, $at];
            $at += \strlen($rest[0] ?? '');
        }
    }

    /** The value that begins there, as it is written; moves on behind it. */
    private function value(int &$at): ?string
    {
        $from = $at;
        $length = \strlen($this->source);
        $depth = 0;
        $quoted = false;
        for (; $at < $length; ++$at) {
            $sign = $this->source[$at];
            if ('\\' === $sign) {
                ++$at;
            } elseif ('"' === $sign && 0 === $depth) {
                $quoted = !$quoted;
            } elseif ('{' === $sign) {
                ++$depth;
            } elseif ('}' === $sign && --$depth < 0) {
                break;
            } elseif (',' === $sign && 0 === $depth && !$quoted) {
                break;
            }
        }
        $value = substr($this->source, $from, $at - $from);

        return '' === $value ? null : $value;
    }

    /**
     * @return list<array{string, int}> as they are written, signs that TeX knows escaped, and where
     */
    private static function addresses(string $value): array
    {
        preg_match_all('~(?:https?://|www\.)(?:\\\\[_%&#\~$]|[^\s{}"<>\\\\])++~i', $value, $m, \PREG_OFFSET_CAPTURE);

        return array_map(static fn (array $found): array => [BareAddresses::trimmed(substr($found[0], 0, 4_096)), $found[1]], $m[0]);
    }

    private static function plain(string $value): string
    {
        return trim((string) preg_replace(
            '/\s+/',
            ' ',
            strtr(
                (string) preg_replace('/\\\\[a-zA-Z]+\s*(?=\{)/', '', $value),
                ['{' => '', '}' => '', '"' => '', '\\&' => '&', '\\%' => '%', '\\_' => '_', '--' => '–'],
            ),
        ));
    }

    private static function day(string $value): ?string
    {
        return \Ypomna\Core\Page\PageDate::find(self::plain($value));
    }
}
