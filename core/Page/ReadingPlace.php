<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/**
 * An element that is being read.
 *
 * @internal
 */
final class ReadingPlace
{
    /** What text right inside is; null where the surroundings decide. */
    public ?PassageKind $own = null;
    public bool $isAway = false;
    public bool $isSvg = false;
    public bool $inSvgText = false;
    private int $child = 0;
    /** @var list<int>|null */
    private ?array $children = null;
    /** @var array<string, int> */
    private array $seenNames = [];
    private ?bool $one = null;

    public function __construct(public readonly int $node, public readonly string $name, public readonly string $step, private readonly ?self $parent, public readonly bool $isSeen, public readonly bool $isBlock)
    {
    }

    public function nextChild(Tree $tree): ?int
    {
        $this->children ??= $tree->children($this->node);

        return $this->children[$this->child++] ?? null;
    }

    /** The text that comes next in this element, without moving on; null if something else comes. */
    public function peek(Tree $tree): ?string
    {
        $next = $this->children[$this->child] ?? null;
        for ($steps = 0; null !== $next && !$tree->isText($next) && $steps < 8; ++$steps) {
            $next = \in_array($tree->name($next), ['b', 'i', 'em', 'strong', 'a', 'span', 'font', 'u', 'small', 'code'], true) ? ($tree->children($next)[0] ?? null) : null;
        }

        return null === $next || !$tree->isText($next) ? null : $tree->text($next);
    }

    public function countOf(string $name): int
    {
        return $this->seenNames[$name] = 1 + ($this->seenNames[$name] ?? 0);
    }

    public function kind(): PassageKind
    {
        for ($place = $this; null !== $place; $place = $place->parent) {
            if (null !== $place->own) {
                return $place->own;
            }
        }

        return PassageKind::Sentence;
    }

    /** The list item around. */
    public function item(): ?self
    {
        for ($place = $this; null !== $place; $place = $place->parent) {
            if ('li' === $place->name) {
                return $place;
            }
        }

        return null;
    }

    public function isOne(Tree $tree): bool
    {
        return $this->one ??= Pieces::isOne($tree, $this->node);
    }
}
