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
    /** The child that is read now; null before the first. */
    private ?int $child = null;
    private bool $began = false;
    private ?PassageKind $kind = null;
    /** @var array<string, int> */
    private array $seenNames = [];
    private ?bool $one = null;

    private readonly ?self $item;

    public function __construct(
        public readonly int $node,
        public readonly string $name,
        public readonly string $step,
        private readonly ?self $parent,
        public readonly bool $isSeen,
        public readonly bool $isBlock,
    ) {
        $this->item = $parent?->item();
    }

    public function nextChild(Tree $tree): ?int
    {
        $this->child = $this->following($tree);
        $this->began = true;

        return $this->child;
    }

    /** The text that comes next in this element, without moving on; null if something else comes. */
    public function peek(Tree $tree): ?string
    {
        $next = $this->following($tree);
        for ($steps = 0; null !== $next && !$tree->isText($next) && $steps < 8; ++$steps) {
            $next = \in_array($tree->name($next), ['b', 'i', 'em', 'strong', 'a', 'span', 'font', 'u', 'small', 'code'], true)
                ? $tree->firstChild($next)
                : null;
        }

        return null === $next || !$tree->isText($next) ? null : $tree->text($next);
    }

    private function following(Tree $tree): ?int
    {
        return !$this->began ? $tree->firstChild($this->node) : (null === $this->child ? null : $tree->next($this->child));
    }

    public function countOf(string $name): int
    {
        return $this->seenNames[$name] = 1 + ($this->seenNames[$name] ?? 0);
    }

    public function kind(): PassageKind
    {
        // What is around is settled when something inside of it is read.
        return $this->own ?? $this->kind ??= $this->parent?->kind() ?? PassageKind::Sentence;
    }

    /** The list item around. */
    public function item(): ?self
    {
        return 'li' === $this->name ? $this : $this->item;
    }

    public function isOne(Tree $tree): bool
    {
        return $this->one ??= SinglePiece::isOne($tree, $this->node);
    }
}
