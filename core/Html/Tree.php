<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * The tree of a page: elements and texts by number, 0 being the document. Numbers instead of objects, since a page may have
 * hundreds of thousands of nodes, and no nesting is then too deep to let go of.
 */
final class Tree
{
    private const NONE = -1;

    /** @var array<int, string> names of elements in lower case; '' of texts and of the document */
    private array $names = [''];
    /** @var array<int, string> of texts */
    private array $texts = [''];
    /** @var array<int, string> attributes of elements that have some: NUL, name, U+0001, value, one behind the other */
    private array $attributes = [];
    /** @var array<int, int> */
    private array $parents = [self::NONE];
    /**
     * @var array<int, int> first and last child, neighbour before and behind: small numbers, since a page has hundreds of thousands of them
     */
    private array $first = [self::NONE];
    /** @var array<int, int> */
    private array $last = [self::NONE];
    /** @var array<int, int> */
    private array $before = [self::NONE];
    /** @var array<int, int> */
    private array $behind = [self::NONE];
    /** Whether there was more of the page than is read. */
    public bool $isCut = false;

    /** @param array<array-key, string> $attributes */
    public function element(string $name, array $attributes): int
    {
        $node = $this->node($name, '');
        $this->addAttributes($node, $attributes);

        return $node;
    }

    public function textNode(string $text): int
    {
        return $this->node('', $text);
    }

    private function node(string $name, string $text): int
    {
        $this->names[] = $name;
        $this->texts[] = $text;
        $this->parents[] = $this->first[] = $this->last[] = $this->before[] = $this->behind[] = self::NONE;

        return \count($this->names) - 1;
    }

    /** @param int|null $before a child of the parent; null: at the end */
    public function insert(int $parent, int $node, ?int $before = null): void
    {
        $this->remove($node);
        $before = null !== $before && $this->parents[$before] === $parent ? $before : self::NONE;
        $after = self::NONE === $before ? $this->last[$parent] : $this->before[$before];
        $this->link($parent, $after, $node);
        $this->link($parent, $node, $before);
        $this->parents[$node] = $parent;
    }

    public function remove(int $node): void
    {
        $parent = $this->parents[$node];
        if (self::NONE === $parent) {
            return;
        }
        $this->link($parent, $this->before[$node], $this->behind[$node]);
        $this->parents[$node] = $this->before[$node] = $this->behind[$node] = self::NONE;
    }

    public function moveChildren(int $from, int $to): void
    {
        for ($child = $this->first[$from]; self::NONE !== $child; $child = $this->behind[$child]) {
            $this->parents[$child] = $to;
        }
        if (self::NONE !== $this->first[$from]) {
            [$first, $last] = [$this->first[$from], $this->last[$from]];
            $this->link($to, $this->last[$to], $first);
            $this->last[$to] = $last;
        }
        $this->first[$from] = $this->last[$from] = self::NONE;
    }

    /** Makes two children of a parent neighbours; one of them may be none. */
    private function link(int $parent, int $one, int $other): void
    {
        if (self::NONE === $one) {
            $this->first[$parent] = $other;
        } else {
            $this->behind[$one] = $other;
        }
        if (self::NONE === $other) {
            $this->last[$parent] = $one;
        } else {
            $this->before[$other] = $one;
        }
    }

    /** @param array<array-key, string> $attributes those that the element lacks are added */
    public function addAttributes(int $node, array $attributes): void
    {
        foreach ($attributes as $name => $value) {
            if (null === $this->attribute($node, (string) $name)) {
                $this->attributes[$node] = ($this->attributes[$node] ?? '')."\0"
                    .strtr((string) $name, ["\0" => "\u{FFFD}", "\1" => "\u{FFFD}"])."\1".str_replace("\0", "\u{FFFD}", $value);
            }
        }
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
        if (!isset($this->attributes[$node])) {
            return null;
        }
        $all = $this->attributes[$node];
        $at = strpos($all, "\0".$name."\1");
        if (false === $at) {
            return null;
        }
        $from = $at + \strlen($name) + 2;
        $end = strpos($all, "\0", $from);

        return false === $end ? substr($all, $from) : substr($all, $from, $end - $from);
    }

    /**
     * @return array<array-key, string>
     */
    public function attributes(int $node): array
    {
        $attributes = [];
        foreach (isset($this->attributes[$node]) ? explode("\0", substr($this->attributes[$node], 1)) : [] as $one) {
            [$name, $value] = explode("\1", $one, 2) + [1 => ''];
            $attributes[$name] = $value;
        }

        return $attributes;
    }

    public function parent(int $node): ?int
    {
        return self::NONE === $this->parents[$node] ? null : $this->parents[$node];
    }

    public function firstChild(int $node): ?int
    {
        return self::NONE === $this->first[$node] ? null : $this->first[$node];
    }

    /** The neighbour behind a node. */
    public function next(int $node): ?int
    {
        return self::NONE === $this->behind[$node] ? null : $this->behind[$node];
    }

    /**
     * @return \Generator<int, int> in order
     */
    public function children(int $node): \Generator
    {
        for ($child = $this->first[$node]; self::NONE !== $child; $child = $this->behind[$child]) {
            yield $child;
        }
    }

    /** All text inside, as it stands. */
    public function textInside(int $node): string
    {
        $text = '';
        for ($one = $node; self::NONE !== $one; $one = $this->following($one, $node)) {
            $text .= $this->texts[$one];
        }

        return $text;
    }

    /**
     * @return \Generator<int, int> the elements of that name, in order
     */
    public function elements(string $name): \Generator
    {
        for ($one = 0; self::NONE !== $one; $one = $this->following($one, 0)) {
            if ($this->names[$one] === $name) {
                yield $one;
            }
        }
    }

    /** What comes next in the order of the document, within that one. */
    private function following(int $node, int $within): int
    {
        if (self::NONE !== $this->first[$node]) {
            return $this->first[$node];
        }
        for (; $node !== $within; $node = $this->parents[$node]) {
            if (self::NONE !== $this->behind[$node]) {
                return $this->behind[$node];
            }
        }

        return self::NONE;
    }
}
