<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** How somebody looks at a dossier: in which way, which of its items, in which order, and what of them is shown. */
final readonly class DossierView
{
    /** Columns of a register; `f.` and a name is a field. */
    public const COLUMNS = ['tags', 'due', 'captured', 'kind', 'changed', 'by'];
    public const USUAL = ['tags', 'due', 'captured'];
    public const MOST_COLUMNS = 12;
    public const LONGEST = 200;

    /**
     * @param list<string> $columns
     * @param string $words that stand in the title; '' if that does not matter
     * @param string|null $field by whose dates a chronology is drawn
     */
    public function __construct(
        public Look $look = Look::Register,
        public ItemOrder $order = ItemOrder::Hand,
        public array $columns = self::USUAL,
        public ?ItemKind $kind = null,
        public ?string $tag = null,
        public bool $important = false,
        public ?\DateTimeImmutable $dueBefore = null,
        public string $words = '',
        public ?string $field = null,
    ) {
    }

    /**
     * As an address says it; what is no such thing says nothing.
     *
     * @param array<array-key, mixed> $all
     */
    public static function of(array $all): self
    {
        $text = static fn (string $name): string => \is_string($all[$name] ?? null)
            ? trim(mb_substr(mb_scrub($all[$name]), 0, self::LONGEST)) : '';
        $columns = array_values(array_unique(array_filter(
            \is_array($all['columns'] ?? null) ? $all['columns'] : self::USUAL,
            static fn (mixed $one): bool => \is_string($one) && (\in_array($one, self::COLUMNS, true)
                || (str_starts_with($one, 'f.') && mb_check_encoding($one) && mb_strlen($one) <= self::LONGEST + 2)),
        )));
        $due = \DateTimeImmutable::createFromFormat('!Y-m-d', $text('due'), new \DateTimeZone('UTC'));

        return new self(
            Look::tryFrom($text('look')) ?? Look::Register, ItemOrder::tryFrom($text('order')) ?? ItemOrder::Hand,
            \array_slice($columns, 0, self::MOST_COLUMNS), ItemKind::tryFrom($text('kind')), '' === $text('tag') ? null : $text('tag'),
            '1' === $text('important'), false === $due ? null : $due, $text('words'), '' === $text('field') ? null : $text('field'),
        );
    }

    /** @return array<string, string|list<string>> as an address says it: what is usual is not said */
    public function query(): array
    {
        return array_filter([
            'look' => Look::Register === $this->look ? '' : $this->look->value,
            'order' => ItemOrder::Hand === $this->order ? '' : $this->order->value,
            'columns' => self::USUAL === $this->columns ? '' : $this->columns,
            'kind' => $this->kind->value ?? '', 'tag' => $this->tag ?? '', 'important' => $this->important ? '1' : '',
            'due' => $this->dueBefore?->format('Y-m-d') ?? '', 'words' => $this->words, 'field' => $this->field ?? '',
        ], static fn (string|array $value): bool => '' !== $value);
    }

    /** Whether only some of the items are shown. */
    public function isNarrowed(): bool
    {
        return null !== $this->kind || null !== $this->tag || $this->important || null !== $this->dueBefore || '' !== $this->words;
    }

    /** @param array{string, int}|null $after */
    public function items(?string $dossier, ?string $within, ?array $after, int $most): ItemQuery
    {
        return new ItemQuery(
            dossier: $dossier, within: $within, kind: $this->kind, tag: $this->tag, dueBefore: $this->dueBefore,
            important: $this->important ? true : null, words: '' === $this->words ? null : $this->words, order: $this->order,
            after: $after, most: $most,
        );
    }
}
