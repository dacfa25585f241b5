<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Page\PageDate;

/** A bibliography in the RIS format: a tag and a value a line, an entry up to `ER`. */
final readonly class RisDraft implements Repairable
{
    private const LINE = '/^([A-Z][A-Z0-9])[ ]{2}-[ ]?(.*?)[ \t]*$/m';
    private const SHOWN = ['AU', 'A1', 'TI', 'T1', 'T2', 'JO', 'PB', 'PY', 'Y1', 'N1', 'AB'];
    private const LINKS = ['UR', 'L1', 'L2', 'L3', 'LK', 'N1', 'M1'];

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $stretches = [];
        $entry = $shown = [];
        $number = 0;
        preg_match_all(self::LINE, str_replace("\r", ' ', $this->source), $lines, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE);
        foreach ($lines as $line) {
            [$tag, $value, $at] = [$line[1][0], $line[2][0], $line[2][1]];
            if ('ER' === $tag) {
                $stretches[] = $this->entry($entry, $shown, ++$number, $line[0][1]);
                $entry = $shown = [];
                continue;
            }
            $entry[] = [$tag, $value, $at, $line[0][1] + \strlen($line[0][0])];
            $shown[$tag] ??= $value;
        }

        return [] === $entry ? $stretches : [...$stretches, $this->entry($entry, $shown, ++$number, \strlen($this->source))];
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        $break = str_contains($this->source, "\r\n") ? "\r\n" : "\n";
        foreach ($repairs as $repair) {
            $splices->add($repair->place('at'), $repair->place('length'), $repair->permanent);
            $end = strpos($this->source, "\n", $repair->place('at'));
            $note = 'N1  - '.ucfirst($wording->archived).' '.$repair->day.'; '.$wording->original.' '.$repair->original;
            $splices->add(false === $end ? \strlen($this->source) : $end + 1, 0, false === $end ? $break.$note : $note.$break);
        }
        $splices->write($this->source, $path);
    }

    /**
     * @param list<array{string, string, int, int}> $lines
     * @param array<string, string>                 $first
     */
    private function entry(array $lines, array $first, int $number, int $end): Stretch
    {
        $text = implode('. ', array_filter(array_map(static fn (string $tag): string => [] === BareAddresses::in($first[$tag] ?? '') ? $first[$tag] ?? '' : '', self::SHOWN), static fn (string $value): bool => '' !== $value));
        $spots = [];
        foreach ($lines as [$tag, $value, $at]) {
            foreach (\in_array($tag, self::LINKS, true) ? BareAddresses::in($value) : [] as [$written, $within]) {
                $text .= ' ';
                $spots[] = new Spot($written, \strlen($text), \strlen($written), $first['TI'] ?? $first['T1'] ?? $written, ['kind' => 'field', 'at' => $at + $within, 'length' => \strlen($written), 'end' => $end]);
                $text .= $written;
            }
        }
        $read = strtr($first['Y2'] ?? '', '/', '-');

        return new Stretch($text, $spots, $first['ID'] ?? (string) $number, [], PageDate::find(1 === preg_match('/^(\d{4})-(\d{1,2})-(\d{1,2})/', $read, $m) ? \sprintf('%s-%02d-%02d', $m[1], $m[2], $m[3]) : $read));
    }
}
