<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * The elements that are open, the outermost first (HTML Living Standard, section 13.2.4.2).
 *
 * @internal
 */
final class Stack
{
    /** @var list<Open> */
    private array $open = [];
    /** @var array<string, int> how many of each name are open, so that a search for none is short */
    private array $times = [];

    public function push(Open $element): void
    {
        $this->open[] = $element;
        $this->times[$element->name] = 1 + ($this->times[$element->name] ?? 0);
    }

    public function pop(): ?Open
    {
        $element = array_pop($this->open);
        if (null !== $element) {
            --$this->times[$element->name];
        }

        return $element;
    }

    public function count(): int
    {
        return \count($this->open);
    }

    public function at(int $place): Open
    {
        return $this->open[$place];
    }

    public function top(): Open
    {
        return $this->open[\count($this->open) - 1];
    }

    public function isForeign(): bool
    {
        return [] !== $this->open && MarkupVocabulary::Html !== $this->open[\count($this->open) - 1]->vocabulary;
    }

    /** @return int|null place of the innermost element of that name, whatever is around it */
    public function lastPlace(string $name): ?int
    {
        if (0 === ($this->times[$name] ?? 0)) {
            return null;
        }
        for ($i = \count($this->open) - 1; $i >= 0; --$i) {
            if ($this->open[$i]->isHtml($name)) {
                return $i;
            }
        }

        return null;
    }

    public function placeOf(Open $element): ?int
    {
        for ($i = \count($this->open) - 1; $i >= 0; --$i) {
            if ($this->open[$i] === $element) {
                return $i;
            }
        }

        return null;
    }

    /** @param array<string, int> $bounds elements beyond which is not looked */
    public function has(string $name, array $bounds = Kinds::SCOPE): bool
    {
        return 0 !== ($this->times[$name] ?? 0) && $this->hasAny([$name => 1], $bounds);
    }

    /**
     * @param array<string, int> $names
     * @param array<string, int> $bounds
     */
    public function hasAny(array $names, array $bounds = Kinds::SCOPE): bool
    {
        for ($i = \count($this->open) - 1; $i >= 0; --$i) {
            $element = $this->open[$i];
            if (MarkupVocabulary::Html === $element->vocabulary) {
                if (isset($names[$element->name])) {
                    return true;
                }
                if (isset($bounds[$element->name])) {
                    return false;
                }
            } elseif (Kinds::isForeignBound($element) && Kinds::TABLE_SCOPE !== $bounds) {
                return false;
            }
        }

        return false;
    }

    public function remove(Open $element): void
    {
        $place = $this->placeOf($element);
        if (null !== $place) {
            array_splice($this->open, $place, 1);
            --$this->times[$element->name];
        }
    }

    public function insert(int $place, Open $element): void
    {
        array_splice($this->open, $place, 0, [$element]);
        $this->times[$element->name] = 1 + ($this->times[$element->name] ?? 0);
    }

    public function replace(int $place, Open $element): void
    {
        $this->open = array_values(array_replace($this->open, [$place => $element]));
    }

    /** Closes what is open down to that place, with it. */
    public function cut(int $place): void
    {
        while (\count($this->open) > $place) {
            $this->pop();
        }
    }

    /** @param array<string, int> $names closes up to an element of these, with it */
    public function popUntil(array $names): void
    {
        while ([] !== $this->open) {
            $element = $this->top();
            $this->pop();
            if (MarkupVocabulary::Html === $element->vocabulary && isset($names[$element->name])) {
                return;
            }
        }
    }

    /** @param array<string, int> $names closes what is open inside of an element of these */
    public function backTo(array $names): void
    {
        while ([] !== $this->open && !(MarkupVocabulary::Html === $this->top()->vocabulary && isset($names[$this->top()->name]))) {
            $this->pop();
        }
    }

    /** @param array<string, int> $names */
    public function closeImplied(string $but = '', array $names = Kinds::IMPLIED): void
    {
        while ([] !== $this->open && $this->top()->name !== $but && MarkupVocabulary::Html === $this->top()->vocabulary
            && isset($names[$this->top()->name])) {
            $this->pop();
        }
    }
}
