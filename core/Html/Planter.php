<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Puts elements and text in their place: the open elements, the formatting that goes on across blocks, and what stands in a
 * table where it may not (HTML Living Standard, sections 13.2.4.3, 13.2.6.1 and 13.2.6.4.7).
 *
 * @internal
 */
final class Planter
{
    /** As in browsers: what is nested deeper becomes a sibling. */
    private const DEEPEST = 512;
    /** Nodes of a page; what comes behind them is not read. */
    private const MOST = 400_000;
    private const MOST_ATTRIBUTES = 200_000;

    public readonly Stack $stack;
    public readonly Tree $tree;
    /** @var list<Open|null> formatting elements; null is a marker */
    private array $formatting = [];
    public bool $fostering = false;
    private string $text = '';
    /** @var array{int, int|null}|null */
    private ?array $textPlace = null;
    private int $nodes = 0;
    private int $attributes = 0;

    public function __construct()
    {
        $this->stack = new Stack();
        $this->tree = new Tree();
    }

    public function isFull(): bool
    {
        return $this->nodes >= self::MOST || $this->attributes >= self::MOST_ATTRIBUTES;
    }

    public function text(string $text): void
    {
        $place = $this->place();
        if (null === $this->textPlace || $place[0] !== $this->textPlace[0] || $place[1] !== $this->textPlace[1]) {
            $this->flushText();
            $this->textPlace = $place;
        }
        $this->text .= $text;
    }

    /** Writes down the text that was gathered. */
    public function flushText(): void
    {
        if (null !== $this->textPlace && '' !== $this->text) {
            [$parent, $before] = $this->textPlace;
            $this->tree->insert($parent, $this->tree->textNode($this->text), $before);
            ++$this->nodes;
        }
        $this->text = '';
        $this->textPlace = null;
    }

    /** Puts the element in and opens it. */
    public function open(Token $token, MarkupVocabulary $vocabulary = MarkupVocabulary::Html): Open
    {
        $element = $this->put($token, $vocabulary);
        if ($this->stack->count() < self::DEEPEST) {
            $this->stack->push($element);
        }

        return $element;
    }

    public function put(Token $token, MarkupVocabulary $vocabulary = MarkupVocabulary::Html): Open
    {
        $this->flushText();
        $element = $this->make($token->name, $token->attributes, $vocabulary);
        [$parent, $before] = $this->place();
        $this->tree->insert($parent, $element->node, $before);

        return $element;
    }

    /** @param array<array-key, string> $attributes */
    public function make(string $name, array $attributes, MarkupVocabulary $vocabulary = MarkupVocabulary::Html): Open
    {
        ++$this->nodes;

        $this->attributes += \count($attributes);

        return new Open($name, $this->tree->element($name, $attributes), $vocabulary, $attributes);
    }

    /**
     * @return array{int, int|null} parent, and the node before which to insert
     */
    private function place(?Open $target = null): array
    {
        if (0 === $this->stack->count()) {
            return [$this->tree->firstChild(0) ?? 0, null];
        }
        $target ??= $this->stack->top();
        if (!$this->fostering || MarkupVocabulary::Html !== $target->vocabulary
            || !\in_array($target->name, ['table', 'tbody', 'tfoot', 'thead', 'tr'], true)) {
            return [$target->node, null];
        }
        $template = $this->stack->lastPlace('template');
        $table = $this->stack->lastPlace('table');
        if (null !== $template && (null === $table || $template > $table)) {
            return [$this->stack->at($template)->node, null];
        }
        if (null === $table) {
            return [$this->stack->at(0)->node, null];
        }
        $node = $this->stack->at($table)->node;

        $parent = $this->tree->parent($node);

        return null !== $parent ? [$parent, $node] : [$this->stack->at(max(0, $table - 1))->node, null];
    }

    public function format(Open $element): void
    {
        // No more than three alike since the last marker ("Noah's Ark").
        $alike = 0;
        for ($i = \count($this->formatting) - 1; $i >= 0 && null !== $this->formatting[$i]; --$i) {
            $other = $this->formatting[$i];
            if ($other->name === $element->name && $other->attributes === $element->attributes && 3 === ++$alike) {
                array_splice($this->formatting, $i, 1);
                break;
            }
        }
        $this->formatting[] = $element;
    }

    public function mark(): void
    {
        $this->formatting[] = null;
    }

    public function clearToMarker(): void
    {
        while ([] !== $this->formatting && null !== array_pop($this->formatting)) {
        }
    }

    /** The formatting element of that name since the last marker. */
    public function formattingOf(string $name): ?Open
    {
        for ($i = \count($this->formatting) - 1; $i >= 0 && null !== $this->formatting[$i]; --$i) {
            if ($this->formatting[$i]->name === $name) {
                return $this->formatting[$i];
            }
        }

        return null;
    }

    public function unformat(Open $element): void
    {
        $place = array_search($element, $this->formatting, true);
        if (\is_int($place)) {
            array_splice($this->formatting, $place, 1);
        }
    }

    /** Formatting that a block cut off goes on in this one. */
    public function reconstruct(): void
    {
        $i = \count($this->formatting) - 1;
        if ($i < 0 || null === $this->formatting[$i] || null !== $this->stack->placeOf($this->formatting[$i])) {
            return;
        }
        while ($i > 0 && null !== $this->formatting[$i - 1] && null === $this->stack->placeOf($this->formatting[$i - 1])) {
            --$i;
        }
        for ($count = \count($this->formatting); $i < $count && !$this->isFull() && $this->stack->count() < self::DEEPEST; ++$i) {
            $old = $this->formatting[$i];
            if (null !== $old) {
                $this->formatting[$i] = $this->open(new Token(TokenKind::Start, $old->name, '', $old->attributes));
            }
        }
        $this->formatting = array_values($this->formatting);
    }

    /**
     * Ends a formatting element that may cross others ("adoption agency").
     *
     * @return bool whether there is one; if not, the end tag is like any other
     */
    public function adopt(string $name): bool
    {
        $this->flushText();
        if ($this->stack->top()->isHtml($name) && !\in_array($this->stack->top(), $this->formatting, true)) {
            $this->stack->pop();

            return true;
        }
        for ($outer = 0; $outer < 8; ++$outer) {
            $element = $this->formattingOf($name);
            if (null === $element) {
                return $outer > 0;
            }
            $place = $this->stack->placeOf($element);
            if (null === $place) {
                $this->unformat($element);

                return true;
            }
            if (!$this->isInScope($place)) {
                return true;
            }
            $furthest = $this->furthestBlock($place);
            if (null === $furthest) {
                $this->stack->cut($place);
                $this->unformat($element);

                return true;
            }
            $this->takeOver($element, $place, $furthest);
        }

        return true;
    }

    private function isInScope(int $place): bool
    {
        for ($i = $this->stack->count() - 1; $i > $place; --$i) {
            $one = $this->stack->at($i);
            if (Kinds::isForeignBound($one) || (MarkupVocabulary::Html === $one->vocabulary && isset(Kinds::SCOPE[$one->name]))) {
                return false;
            }
        }

        return true;
    }

    private function furthestBlock(int $place): ?int
    {
        for ($i = $place + 1, $count = $this->stack->count(); $i < $count; ++$i) {
            if (Kinds::isSpecial($this->stack->at($i))) {
                return $i;
            }
        }

        return null;
    }

    /** Steps 9 to 20 of the algorithm. */
    private function takeOver(Open $element, int $place, int $furthest): void
    {
        $block = $this->stack->at($furthest);
        $ancestor = $this->stack->at(max(0, $place - 1));
        $bookmark = array_search($element, $this->formatting, true);
        $last = $block;
        $inner = 0;
        for ($at = $furthest - 1; $at > $place; --$at) {
            $node = $this->stack->at($at);
            ++$inner;
            $entry = array_search($node, $this->formatting, true);
            if ($inner > 3 && \is_int($entry)) {
                array_splice($this->formatting, $entry, 1);
                $bookmark = $entry < $bookmark ? $bookmark - 1 : $bookmark;
                $entry = false;
            }
            if (!\is_int($entry)) {
                $this->stack->remove($node);
                continue;
            }
            $copy = $this->make($node->name, $node->attributes);
            $this->formatting = array_values(array_replace($this->formatting, [$entry => $copy]));
            $this->stack->replace($at, $copy);
            if ($last === $block) {
                $bookmark = $entry + 1;
            }
            $this->tree->insert($copy->node, $last->node);
            $last = $copy;
        }
        [$parent, $before] = $this->place($ancestor);
        $this->tree->insert($parent, $last->node, $before);
        $copy = $this->make($element->name, $element->attributes);
        $this->tree->moveChildren($block->node, $copy->node);
        $this->tree->insert($block->node, $copy->node);
        $old = array_search($element, $this->formatting, true);
        if (\is_int($old)) {
            array_splice($this->formatting, $old, 1);
            $bookmark = $old < $bookmark ? $bookmark - 1 : $bookmark;
        }
        array_splice($this->formatting, (int) $bookmark, 0, [$copy]);
        $this->stack->remove($element);
        $this->stack->insert(1 + (int) $this->stack->placeOf($block), $copy);
    }
}
