<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\Text;

/**
 * The text of a page with white space taken out, so that words are found however they were laid out, and the way back from there
 * to the text that is printed. Places in it are counted in bytes of the folded text.
 *
 * @internal
 */
final class PageText
{
    public readonly string $folded;
    /** @var list<int> where each passage begins in the folded text */
    private readonly array $starts;
    /** @var list<int> where each passage begins in the printed text, in code points */
    private readonly array $points;

    /** The passage whose characters were asked for last. */
    private int $known = -1;
    /** @var array{list<string>, list<int>} */
    private array $characters = [[], []];

    /** @param list<Passage> $passages in reading order */
    public function __construct(public readonly array $passages)
    {
        $folded = '';
        $starts = $points = [];
        $point = 0;
        foreach ($passages as $passage) {
            $starts[] = \strlen($folded);
            $points[] = $point;
            $folded .= self::fold($passage->text);
            $point += mb_strlen($passage->text) + 1;
        }
        [$this->folded, $this->starts, $this->points] = [$folded, $starts, $points];
    }

    /** Without white space and what takes up no width. */
    public static function fold(string $normalised): string
    {
        return str_replace(' ', '', Text::key($normalised));
    }

    public function count(): int
    {
        return \count($this->passages);
    }

    public function startOf(int $passage): int
    {
        return $this->starts[$passage] ?? \strlen($this->folded);
    }

    public function endOf(int $passage): int
    {
        return $this->startOf($passage + 1);
    }

    /** The passage in which a byte stands; the last one for what lies beyond. */
    public function passageAt(int $byte): int
    {
        $low = 0;
        $high = \count($this->starts) - 1;
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            if ($this->starts[$middle] <= $byte) {
                $low = $middle;
            } else {
                $high = $middle - 1;
            }
        }

        return $low;
    }

    /** Where what begins at a byte stands in the printed text, in code points. */
    public function startPoint(int $byte): int
    {
        $passage = $this->passageAt($byte);

        return $this->points[$passage] + $this->within($passage, $byte - $this->starts[$passage], false);
    }

    /** One past the character that ends at a byte. */
    public function endPoint(int $byte): int
    {
        $passage = $this->passageAt(max(0, $byte - 1));

        return $this->points[$passage] + $this->within($passage, $byte - $this->starts[$passage], true);
    }

    /** The byte at which the character at a code point begins. */
    public function byteAt(int $point): int
    {
        $passage = 0;
        while (isset($this->points[$passage + 1]) && $this->points[$passage + 1] <= $point) {
            ++$passage;
        }
        $text = mb_substr($this->passages[$passage]->text ?? '', 0, $point - ($this->points[$passage] ?? 0));

        return $this->startOf($passage) + \strlen(self::fold($text));
    }

    /** As it is printed, passages parted by line ends. */
    public function between(int $from, int $to): string
    {
        $first = $this->passageAt($from);
        $last = $this->passageAt(max($from, $to - 1));
        $text = '';
        for ($n = $first; $n <= $last; ++$n) {
            $passage = $this->passages[$n]->text;
            $end = $n === $last ? $this->within($n, $to - $this->starts[$n], true) : mb_strlen($passage);
            $start = $n === $first ? $this->within($n, $from - $this->starts[$n], false) : 0;
            $text .= ($n > $first ? "\n" : '').mb_substr($passage, $start, $end - $start);
        }

        return $text;
    }

    /** Whether a place lies inside of a word or a number, so that what begins or ends there is only a piece of it. */
    public function isInWord(int $byte): bool
    {
        $passage = $this->passageAt($byte);
        if ($byte <= $this->startOf($passage) || $byte >= $this->endOf($passage)) {
            return false;
        }
        $at = $this->within($passage, $byte - $this->starts[$passage], false);
        [$characters] = $this->characters($passage);

        return Tokens::isInWord(($characters[$at - 2] ?? '').($characters[$at - 1] ?? ''),
            ($characters[$at] ?? '').($characters[$at + 1] ?? ''));
    }

    /** @param int $bytes into the folded passage */
    private function within(int $passage, int $bytes, bool $isEnd): int
    {
        [, $ends] = $this->characters($passage);
        $low = 0;
        $high = \count($ends);
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($isEnd ? $ends[$middle] < $bytes : $ends[$middle] <= $bytes) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return min($low + ($isEnd && $bytes > 0 ? 1 : 0), \count($ends));
    }

    /** @return array{list<string>, list<int>} of a passage, and where each ends in the folded passage */
    private function characters(int $passage): array
    {
        if ($passage !== $this->known) {
            $this->known = $passage;
            $characters = mb_str_split($this->passages[$passage]->text);
            $ends = [];
            $end = 0;
            foreach ($characters as $character) {
                $ends[] = $end += 1 === \strlen($character) ? (' ' === $character ? 0 : 1) : \strlen(self::fold($character));
            }
            $this->characters = [$characters, $ends];
        }

        return $this->characters;
    }
}
