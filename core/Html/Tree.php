<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * The tree of a page: elements and texts by number, 0 being the document. Numbers instead of objects, since a page may have
 * hundreds of thousands of nodes, and no nesting is then too deep to let go of.
 */
final class Tree
{
    /** @var list<string> names of elements in lower case; '' of texts and of the document */
    private array $names = [''];
    /** @var list<string> of texts */
    private array $texts = [''];
    /** @var array<int, array<array-key, string>> */
    private array $attributes = [];
    /** @var array<int, int> */
    private array $parents = [];
    /** @var array<int, array<int, int>> */
    private array $children = [];

    /** @param array<array-key, string> $attributes */
    public function element(string $name, array $attributes): int
    {
        $this->names[] = $name;
        $this->texts[] = '';
        $node = \count($this->names) - 1;
        if ([] !== $attributes) {
            $this->attributes[$node] = $attributes;
        }

        return $node;
    }

    public function textNode(string $text): int
    {
        $this->names[] = '';
        $this->texts[] = $text;

        return \count($this->names) - 1;
    }

    /** @param int|null $before a child of the parent; null: at the end */
    public function insert(int $parent, int $node, ?int $before = null): void
    {
        if (isset($this->parents[$node])) {
            $this->remove($node);
        }
        $behind = [];
        if (null !== $before && ($this->parents[$before] ?? null) === $parent) {
            // What is inserted before stands near the end: a table that was opened last.
            do {
                $one = array_pop($this->children[$parent]);
                $behind[] = (int) $one;
            } while ($one !== $before);
        }
        $this->children[$parent][] = $node;
        while (null !== ($one = array_pop($behind))) {
            $this->children[$parent][] = $one;
        }
        $this->parents[$node] = $parent;
    }

    public function remove(int $node): void
    {
        $parent = $this->parents[$node] ?? null;
        if (null === $parent) {
            return;
        }
        $behind = [];
        while ([] !== $this->children[$parent] && $node !== ($one = array_pop($this->children[$parent]))) {
            $behind[] = $one;
        }
        while (null !== ($one = array_pop($behind))) {
            $this->children[$parent][] = $one;
        }
        unset($this->parents[$node]);
    }

    public function moveChildren(int $from, int $to): void
    {
        foreach ($this->children[$from] ?? [] as $child) {
            $this->children[$to][] = $child;
            $this->parents[$child] = $to;
        }
        unset($this->children[$from]);
    }

    /** @param array<array-key, string> $attributes those that the element lacks are added */
    public function addAttributes(int $node, array $attributes): void
    {
        $this->attributes[$node] = ($this->attributes[$node] ?? []) + $attributes;
    }

    public function isText(int $node): bool
    {
        return '' === $this->names[$node] && 0 !== $node;
    }

    public function name(int $node): string
    {
        return $this->names[$node];
    }

    /** What a text says. */
    public function text(int $node): string
    {
        return $this->texts[$node];
    }

    public function attribute(int $node, string $name): ?string
    {
        return $this->attributes[$node][$name] ?? null;
    }

    /**
     * @return array<array-key, string>
     */
    public function attributes(int $node): array
    {
        return $this->attributes[$node] ?? [];
    }

    public function parent(int $node): ?int
    {
        return $this->parents[$node] ?? null;
    }

    /**
     * @return list<int>
     */
    public function children(int $node): array
    {
        return array_values($this->children[$node] ?? []);
    }

    /** All text inside, as it stands. */
    public function textInside(int $node): string
    {
        $text = '';
        $waiting = [$node];
        while (null !== ($one = array_pop($waiting))) {
            $text .= $this->texts[$one];
            array_push($waiting, ...array_reverse($this->children[$one] ?? []));
        }

        return $text;
    }

    /**
     * @return \Generator<int, int> the elements of that name, in order
     */
    public function elements(string $name): \Generator
    {
        $waiting = [0];
        while (null !== ($one = array_pop($waiting))) {
            if ($this->names[$one] === $name) {
                yield $one;
            }
            array_push($waiting, ...array_reverse($this->children[$one] ?? []));
        }
    }
}
