<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Page\Document;

/** How well the comparison finds what was altered, over many pages. */
final class Score
{
    private const EDITS = [
        'reword', 'remove', 'add', 'replace', 'move', 'moveAndReword', 'cell', 'addRow', 'removeRow', 'heading', 'addItem', 'removeItem',
        'link', 'picture',
    ];

    /** @var array<string, array{int, int, int}> by kind of change: found, expected, both */
    public array $kinds = [];
    /** @var list<string> what went wrong */
    public array $misses = [];
    public int $pages = 0;
    public int $falselyIdentical = 0;
    public int $falselyDifferent = 0;

    /** @param list<string> $layouts */
    public static function over(array $layouts, int $rounds, int $seed): self
    {
        $score = new self();
        foreach ($layouts as $layout) {
            foreach (Sentences::LANGUAGES as $l => $language) {
                for ($round = 0; $round < $rounds; ++$round) {
                    $score->page($layout, $language, new Chance($seed + 7_919 * $round + 101 * $l + 31 * \strlen($layout) + \ord($layout)));
                }
            }
        }

        return $score;
    }

    private function page(string $layout, string $language, Chance $chance): void
    {
        $sentences = new Sentences($chance, $language);
        $content = Content::make($chance, $sentences);
        $before = Layouts::html($layout, $content);
        $edits = new Edits($chance, $sentences, $content);
        for ($i = $chance->between(0, 6); $i > 0; --$i) {
            $edits->apply($chance->of(self::EDITS));
        }
        $after = Layouts::html($layout, $content);
        $after = 0 === $chance->between(0, 1) ? Noise::over($after, $chance) : $after;
        $type = 'text/html; charset=utf-8';
        $comparison = PageComparison::of(
            Document::fromHtml($before, $type, 'http://lantern.test/'), Document::fromHtml($after, $type, 'http://lantern.test/'),
        );
        ++$this->pages;
        $expected = [] !== $edits->expected || [] !== $edits->links || [] !== $edits->pictures;
        $this->falselyIdentical += $expected && $comparison->isIdentical() ? 1 : 0;
        $this->falselyDifferent += !$expected && !$comparison->isIdentical() ? 1 : 0;
        $name = "{$layout} {$language}";
        if (!$expected && !$comparison->isIdentical()) {
            $this->misses[] = "{$name}: nothing was altered that a reader sees";
        }
        $this->tally($name, $edits->expected, array_map(self::line(...), $comparison->changes));
        $address = static fn (string $url): string => str_replace('http://lantern.test', '', $url);
        $found = array_map(
            static fn (array $pair): string => 'link|'.$pair[1]->text.'|'.$address($pair[0]->href).'|'.$address($pair[1]->href),
            $comparison->links->retargeted,
        );
        foreach ([...$comparison->links->added, ...$comparison->links->removed] as $link) {
            $found[] = 'link|'.$link->text;
        }
        $this->tally($name, array_map(static fn (string $line): string => 'link|'.$line, $edits->links), $found);
        $found = array_map(static fn (array $pair): string => 'picture|'.$address($pair[1]->src), $comparison->pictures->changed);
        foreach ([...$comparison->pictures->added, ...$comparison->pictures->removed] as $picture) {
            $found[] = 'picture|+-'.$picture->src;
        }
        $this->tally($name, array_map(static fn (string $line): string => 'picture|'.$line, $edits->pictures), $found);
    }

    private static function line(PassageChange $change): string
    {
        return $change->kind->value.($change->moved && ChangeKind::Changed === $change->kind ? ', moved' : '').'|'
            .($change->old->text ?? '').'|'.($change->new->text ?? '');
    }

    /**
     * @param list<string> $expected
     * @param list<string> $found
     */
    private function tally(string $name, array $expected, array $found): void
    {
        $normal = static function (string $line): string {
            $composed = \Normalizer::normalize($line, \Normalizer::FORM_C);

            return \is_string($composed) ? $composed : $line;
        };
        $expected = array_map($normal, $expected);
        $found = array_map($normal, $found);
        $left = array_count_values($expected);
        foreach ($expected as $line) {
            $this->count($line, 1);
        }
        foreach ($found as $line) {
            $this->count($line, 0);
            if (($left[$line] ?? 0) > 0) {
                --$left[$line];
                $this->count($line, 2);
            } else {
                $this->misses[] = "{$name}: found {$line}";
            }
        }
        foreach ($left as $line => $times) {
            if ($times > 0) {
                $this->misses[] = "{$name}: missed {$line}";
            }
        }
    }

    private function count(string $line, int $which): void
    {
        $kind = explode('|', $line)[0];
        $counts = $this->kinds[$kind] ?? [0, 0, 0];
        ++$counts[$which];
        $this->kinds[$kind] = [$counts[0], $counts[1], $counts[2]];
    }

    /** Of all kinds of passages, or of one. */
    public function f1(?string $kind = null): float
    {
        $sums = [0, 0, 0];
        foreach ($this->kinds as $name => $counts) {
            if ($kind === $name || (null === $kind && !\in_array($name, ['link', 'picture'], true))) {
                $sums = [$sums[0] + $counts[0], $sums[1] + $counts[1], $sums[2] + $counts[2]];
            }
        }

        return 0 === $sums[0] + $sums[1] ? 1.0 : 2 * $sums[2] / ($sums[0] + $sums[1]);
    }
}
