<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/**
 * Alters what a page says and notes what that makes of its passages: {@see Edits::$expected} has a line a change, as
 * `op|old|new`, with `changed, moved` for what moved, too.
 */
final class Edits
{
    /** @var list<string> */
    public array $expected = [];
    /** @var list<string> */
    public array $links = [];
    /** @var list<string> */
    public array $pictures = [];
    /** @var array<string, true> sentences that were touched already */
    private array $touched = [];

    public function __construct(private readonly Chance $chance, private readonly Sentences $sentences, public readonly Content $content)
    {
    }

    public function apply(string $edit): void
    {
        match ($edit) {
            'reword' => $this->reword(),
            'remove' => $this->remove(),
            'add' => $this->add(),
            'replace' => $this->replace(),
            'move' => $this->move(),
            'moveAndReword' => $this->moveAndReword(),
            'cell' => $this->cell(),
            'addRow' => $this->addRow(),
            'removeRow' => $this->removeRow(),
            'heading' => $this->heading(),
            'addItem' => $this->addItem(),
            'removeItem' => $this->removeItem(),
            'link' => $this->link(),
            'picture' => $this->picture(),
            default => throw new \InvalidArgumentException($edit),
        };
    }

    /**
     * @return array{int, int} a sentence that nothing was done to yet
     */
    private function free(): array
    {
        do {
            $p = $this->chance->between(0, \count($this->content->paragraphs) - 1);
            $s = $this->chance->between(0, \count($this->content->paragraphs[$p]) - 1);
        } while (isset($this->touched[$this->content->paragraphs[$p][$s]]));

        return [$p, $s];
    }

    private function set(int $p, int $s, string $sentence): void
    {
        $sentences = $this->content->paragraphs[$p];
        $sentences[$s] = $sentence;
        $this->content->paragraphs[$p] = array_values($sentences);
        $this->content->paragraphs = array_values($this->content->paragraphs);
        $this->touched[$sentence] = true;
    }

    private function reword(): void
    {
        [$p, $s] = $this->free();
        $old = $this->content->paragraphs[$p][$s];
        $new = $this->sentences->edited($old);
        $this->set($p, $s, $new);
        $this->expected[] = "changed|{$old}|{$new}";
    }

    private function remove(): void
    {
        [$p, $s] = $this->free();
        if (\count($this->content->paragraphs[$p]) < 2) {
            return;
        }
        $this->expected[] = 'removed|'.$this->content->paragraphs[$p][$s].'|';
        $sentences = $this->content->paragraphs[$p];
        array_splice($sentences, $s, 1);
        $this->content->paragraphs[$p] = $sentences;
        $this->content->paragraphs = array_values($this->content->paragraphs);
    }

    private function add(): void
    {
        $p = $this->chance->between(0, \count($this->content->paragraphs) - 1);
        $new = $this->sentences->one();
        $sentences = $this->content->paragraphs[$p];
        $at = $this->chance->between(0, \count($sentences));
        // Beside a sentence that is touched as well, what replaced what could not be told.
        foreach ([$sentences[$at - 1] ?? '', $sentences[$at] ?? ''] as $near) {
            if (isset($this->touched[$near])) {
                return;
            }
        }
        array_splice($sentences, $at, 0, [$new]);
        $this->content->paragraphs[$p] = $sentences;
        $this->content->paragraphs = array_values($this->content->paragraphs);
        foreach ([$sentences[$at - 1] ?? '', $new, $sentences[$at + 1] ?? ''] as $near) {
            $this->touched[$near] = true;
        }
        $this->expected[] = "added||{$new}";
    }

    private function replace(): void
    {
        [$p, $s] = $this->free();
        $old = $this->content->paragraphs[$p][$s];
        $new = match ($this->sentences->language) {
            'ja' => 'まったく別の話題：図書館は毎週金曜に閉まる。', 'el' => 'Κάθε Παρασκευή η βιβλιοθήκη κλείνει νωρίς.',
            'ru' => 'Каждую пятницу библиотека закрывается рано.', 'ar' => 'تغلق المكتبة أبوابها مبكرا كل جمعة.',
            'de' => 'Jeden Freitag schließt die Bücherei früher.', default => 'Every Friday the library shuts its doors early.',
        };
        if (isset($this->touched[$new])) {
            return;
        }
        $this->set($p, $s, $new);
        array_push($this->expected, "removed|{$old}|", "added||{$new}");
    }

    private function move(): void
    {
        $from = $this->chance->between(0, min(2, $this->content->split - 1));
        if ($this->content->split < 2) {
            return;
        }
        $paragraph = $this->content->paragraphs[$from];
        $around = \array_slice($this->content->paragraphs, $from + 1);
        foreach ($paragraph as $sentence) {
            if (isset($this->touched[$sentence])) {
                return;
            }
        }
        if (\strlen(implode('', $paragraph)) > 0.8 * \strlen(implode('', array_merge(...$around)))) {
            return;
        }
        $all = $this->content->paragraphs;
        array_splice($all, $from, 1);
        $all[] = $paragraph;
        --$this->content->split;
        $this->content->paragraphs = $all;
        foreach ($paragraph as $sentence) {
            $this->touched[$sentence] = true;
            $this->expected[] = "moved|{$sentence}|{$sentence}";
        }
    }

    private function moveAndReword(): void
    {
        [$p, $s] = $this->free();
        $old = $this->content->paragraphs[$p][$s];
        $to = \count($this->content->paragraphs) - 1;
        if ($p > 2 || \count($this->content->paragraphs[$p]) < 2 || 1 !== preg_match('/\d/', $old)) {
            return;
        }
        $sentences = $this->content->paragraphs[$p];
        array_splice($sentences, $s, 1);
        $this->content->paragraphs[$p] = $sentences;
        $new = (string) preg_replace_callback('/\d+/', static fn (array $m): string => (string) ((int) $m[0] + 77), $old, 1);
        $this->content->paragraphs[$to][] = $new;
        $this->content->paragraphs = array_values($this->content->paragraphs);
        $this->touched[$new] = true;
        $this->expected[] = "changed, moved|{$old}|{$new}";
    }

    private function cell(): void
    {
        $r = $this->chance->between(1, \count($this->content->rows) - 1);
        $c = $this->chance->between(1, 2);
        $old = $this->content->rows[$r][$c];
        if (isset($this->touched['row '.$this->content->rows[$r][0]])) {
            return;
        }
        $this->touched['row '.$this->content->rows[$r][0]] = true;
        $new = '23:'.$this->chance->between(10, 59);
        $row = $this->content->rows[$r];
        $row[$c] = $new;
        $this->content->rows[$r] = array_values($row);
        $this->content->rows = array_values($this->content->rows);
        $this->expected[] = "changed|{$old}|{$new}";
    }

    private function addRow(): void
    {
        $row = ['Pier '.$this->chance->between(50, 99_999), $this->content->rows[1][1], $this->content->rows[2][2], 'Curlew'];
        $this->touched['row '.$row[0]] = true;
        $rows = $this->content->rows;
        array_splice($rows, $this->chance->between(1, \count($rows)), 0, [$row]);
        $this->content->rows = $rows;
        foreach ($row as $cell) {
            $this->expected[] = "added||{$cell}";
        }
    }

    private function removeRow(): void
    {
        $r = $this->chance->between(1, \count($this->content->rows) - 1);
        $row = $this->content->rows[$r];
        if (isset($this->touched['row '.$row[0]]) || \count($this->content->rows) < 4) {
            return;
        }
        $rows = $this->content->rows;
        array_splice($rows, $r, 1);
        $this->content->rows = $rows;
        foreach ($row as $cell) {
            $this->expected[] = "removed|{$cell}|";
        }
    }

    private function heading(): void
    {
        $old = $this->content->headings[1];
        if (!isset($this->touched[$old])) {
            $new = $this->sentences->name();
            $this->touched[$new] = true;
            $this->content->headings = [$this->content->headings[0], $new];
            $this->expected[] = "changed|{$old}|{$new}";
        }
    }

    private function addItem(): void
    {
        $new = match ($this->chance->between(0, 3)) {
            0 => 'Harbour museum', 1 => 'Rope walk', 2 => 'Ticket office', default => 'Lifeboat station',
        };
        if (!isset($this->touched['items'])) {
            $this->touched['items'] = true;
            $items = $this->content->items;
            array_splice($items, $this->chance->between(0, \count($items)), 0, [$new]);
            $this->content->items = $items;
            $this->expected[] = "added||{$new}";
        }
    }

    private function removeItem(): void
    {
        if (!isset($this->touched['items'])) {
            $this->touched['items'] = true;
            $items = $this->content->items;
            [$gone] = array_splice($items, $this->chance->between(0, \count($items) - 1), 1);
            $this->content->items = $items;
            $this->expected[] = "removed|{$gone}|";
        }
    }

    private function link(): void
    {
        $n = $this->chance->between(0, 3);
        [$words, $old] = $this->content->links[$n];
        if (!isset($this->touched['link '.$n])) {
            $this->touched['link '.$n] = true;
            $new = '/elsewhere/'.$this->chance->between(1, 99_999);
            $links = $this->content->links;
            $links[$n] = [$words, $new];
            $this->content->links = array_values($links);
            $this->links[] = "{$words}|{$old}|{$new}";
        }
    }

    private function picture(): void
    {
        $n = $this->chance->between(0, 2);
        if (!isset($this->touched['picture '.$n])) {
            $this->touched['picture '.$n] = true;
            $pictures = $this->content->pictures;
            $this->pictures[] = $pictures[$n] = '/p/new-'.$this->chance->between(1, 99_999).'.png';
            $this->content->pictures = array_values($pictures);
        }
    }
}
