<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/**
 * A block of a page: the sentences of a paragraph, an item, a row of a table.
 *
 * @internal
 */
final class TextBlock
{
    public string $text = '';
    public int $sentences = 0;
    /** Characters in links. */
    public int $links = 0;
    /** Whether it has a link whose words many links of the page have, as those that lead to the whole of what begins here. */
    public bool $leadsOn = false;
    /** Whether it is the beginning of something else that is offered. */
    public bool $isOffered = false;
    private ?bool $dense = null;

    public function __construct(
        public readonly int $number,
        public readonly PassageKind $kind,
        public readonly string $path,
        private readonly ?CellPlace $cell,
    ) {
    }

    public function add(Passage $passage, int $links, bool $leadsOn): void
    {
        $this->text .= ('' === $this->text ? '' : (PassageKind::Line === $this->kind ? "\n" : ($this->isDense() ? '' : ' ')))
            .$passage->text;
        ++$this->sentences;
        $this->links += $links;
        $this->leadsOn = $this->leadsOn || $leadsOn;
        $this->dense = null;
    }

    public function isSameRow(Passage $passage): bool
    {
        return null !== $this->cell && null !== $passage->cell && $this->cell->table === $passage->cell->table
            && $this->cell->row === $passage->cell->row;
    }

    public function letters(): int
    {
        return mb_strlen($this->text);
    }

    /** Whether most of it is in a script that says more with fewer characters, and puts no spaces. */
    public function isDense(): bool
    {
        return $this->dense ??= (int) preg_match_all(
            '/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]/u', $this->text,
        ) > 0.3 * mb_strlen($this->text);
    }

    /** How many letters of an alphabet one character is worth. */
    public function density(): int
    {
        return $this->isDense() ? 3 : (preg_match_all('/\p{Hangul}/u', $this->text) > 0.3 * mb_strlen($this->text) ? 2 : 1);
    }

    public function linkShare(): float
    {
        return min(1.0, $this->links / max(1, $this->letters()));
    }

    public function weight(): int
    {
        return (int) ($this->letters() * $this->density() * (1 - $this->linkShare()));
    }
}
