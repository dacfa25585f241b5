<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Matches;
use Ypomna\Core\Page\PageDate;

/** A bibliography in the RIS format: a tag and a value a line, an entry up to `ER`. */
final readonly class RisDraft implements Repairable
{
    private const LINE = '/^(([A-Z][A-Z0-9])[ ]{2}-[ ]?)(.*?)[ \t]*$/m';
    /** Of an entry. */
    private const MOST_LINES = 10_000;
    private const SHOWN = ['AU', 'A1', 'TI', 'T1', 'T2', 'JO', 'PB', 'PY', 'Y1', 'N1', 'AB'];
    private const LINKS = ['UR', 'L1', 'L2', 'L3', 'LK', 'N1', 'M1'];

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $stretches = new Gathered();
        $entry = $shown = [];
        $number = 0;
        foreach (Matches::of(self::LINE, str_replace("\r", ' ', $this->source)) as $begins => $line) {
            [$whole, $head, $tag, $value] = $line + ['', '', '', ''];
            if ('ER' === $tag) {
                $stretches->add($this->entry($entry, $shown, ++$number, $begins));
                $entry = $shown = [];
                if ($stretches->isFull()) {
                    break;
                }
                continue;
            }
            if (\count($entry) < self::MOST_LINES) {
                $entry[] = [$tag, $value, $begins + \strlen($head), $begins + \strlen($whole)];
                $shown[$tag] ??= $value;
            }
        }
        if ([] !== $entry) {
            $stretches->add($this->entry($entry, $shown, ++$number, \strlen($this->source)));
        }

        return $stretches->all();
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
     * @param array<string, string> $first
     */
    private function entry(array $lines, array $first, int $number, int $end): Stretch
    {
        $text = implode(
            '. ',
            array_filter(
                array_map(
                    static fn (string $tag): string => [] === BareAddresses::in($first[$tag] ?? '') ? $first[$tag] ?? '' : '', self::SHOWN,
                ),
                static fn (string $value): bool => '' !== $value,
            ),
        );
        $spots = [];
        foreach ($lines as [$tag, $value, $at]) {
            foreach (\in_array($tag, self::LINKS, true) ? BareAddresses::in($value) : [] as [$written, $within]) {
                $text .= ' ';
                $spots[] = new Spot(
                    $written,
                    \strlen($text),
                    \strlen($written),
                    $first['TI'] ?? $first['T1'] ?? $written,
                    ['kind' => 'field', 'at' => $at + $within, 'length' => \strlen($written), 'end' => $end],
                );
                $text .= $written;
            }
        }
        $read = strtr($first['Y2'] ?? '', '/', '-');

        return new Stretch(
            $text,
            $spots,
            $first['ID'] ?? (string) $number,
            [],
            PageDate::find(
                1 === preg_match('/^(\d{4})-(\d{1,2})-(\d{1,2})/', $read, $m) ? \sprintf('%s-%02d-%02d', $m[1], $m[2], $m[3]) : $read,
            ),
        );
    }
}
