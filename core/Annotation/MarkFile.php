<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * Marks from JSON: one annotation, a list of them, or an AnnotationPage (Web Annotation Data Model, sections 3 and 5.2).
 *
 * Of each only what tells where it stands is read; selectors may stand beside each other, refine each other or begin and end a range.
 */
final class MarkFile
{
    /** Of the file, in bytes. */
    public const MOST_BYTES = 33_554_432;
    public const MOST_MARKS = 20_000;
    private const DEEPEST = 64;
    /** Selectors of one mark, those that refine others counted. */
    private const MOST_SELECTORS = 50;

    private ?Quote $quote = null;
    private ?int $start = null;
    private ?int $end = null;
    private ?string $around = null;
    /** @var array<string, true> names of selectors that say nothing about words */
    private array $others = [];
    private int $left = self::MOST_SELECTORS;

    private function __construct()
    {
    }

    /**
     * @return list<Mark> in the order of the file; those that cannot be used say why
     *
     * @throws UnreadableMarks
     */
    public static function read(string $json): array
    {
        if (\strlen($json) > self::MOST_BYTES) {
            throw new UnreadableMarks(\sprintf('The marks have more than %d MiB.', self::MOST_BYTES >> 20));
        }
        $json = str_starts_with($json, "\u{FEFF}") ? substr($json, 3) : $json;
        try {
            $data = json_decode($json, true, self::DEEPEST, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_BIGINT_AS_STRING);
        } catch (\JsonException $e) {
            throw new UnreadableMarks('The marks are not JSON: '.$e->getMessage().'.');
        }
        if (!\is_array($data)) {
            throw new UnreadableMarks('There is no annotation: an object, a list of them, or an AnnotationPage is needed.');
        }
        $list = self::listed($data);
        if (\count($list) > self::MOST_MARKS) {
            throw new UnreadableMarks(\sprintf('There are more than %d marks.', self::MOST_MARKS));
        }

        return array_map(self::mark(...), $list);
    }

    /**
     * @param array<mixed> $data
     *
     * @return list<mixed>
     */
    private static function listed(array $data): array
    {
        if (array_is_list($data)) {
            return $data;
        }
        foreach ([$data['items'] ?? null, \is_array($data['first'] ?? null) ? $data['first']['items'] ?? null : null] as $items) {
            if (null !== $items) {
                return \is_array($items) && array_is_list($items) ? $items : [$items];
            }
        }
        $types = array_map(static fn (mixed $type): string => \is_string($type) ? $type : '', self::several($data['type'] ?? null));
        if (\in_array('AnnotationPage', $types, true) || \in_array('AnnotationCollection', $types, true)) {
            return [];
        }
        if (!\array_key_exists('target', $data) && !\in_array('Annotation', $types, true)) {
            throw new UnreadableMarks('There is no annotation: the object has neither a target nor items.');
        }

        return [$data];
    }

    private static function mark(mixed $one): Mark
    {
        if (!\is_array($one) || array_is_list($one)) {
            return new Mark(null, null, problem: 'This is no annotation.');
        }
        $id = \is_string($one['id'] ?? null) ? $one['id'] : null;
        if (!isset($one['target'])) {
            return new Mark($id, null, problem: 'The mark has no target.');
        }
        $found = new self();
        foreach (self::several($one['target']) as $target) {
            if (\is_array($target)) {
                $found->selectors($target['selector'] ?? null);
            }
            if (null !== $found->quote) {
                break;
            }
        }

        return $found->asMark($id);
    }

    private function asMark(?string $id): Mark
    {
        $hasPlace = null !== $this->quote || (null !== $this->start && null !== $this->end && $this->start < $this->end);
        $problem = $hasPlace ? null : match (true) {
            [] !== $this->others => 'The mark names no words, only '.implode(', ', array_keys($this->others)).'.',
            null !== $this->start => 'The position of the mark is empty.',
            default => 'The mark has no selector.',
        };

        return new Mark($id, $this->quote, $this->start, $this->end, $this->around, $problem);
    }

    /** @param Quote|null $within the words that are refined by what is given */
    private function selectors(mixed $given, ?Quote $within = null, bool $isRefining = false): void
    {
        foreach (self::several($given) as $selector) {
            if (--$this->left < 0) {
                return;
            }
            if (\is_string($selector)) {
                $this->others['a fragment'] = true;
            } elseif (\is_array($selector)) {
                $this->selector($selector, $within, $isRefining);
            }
        }
    }

    /** @param array<mixed> $selector */
    private function selector(array $selector, ?Quote $within, bool $isRefining): void
    {
        $type = \is_string($selector['type'] ?? null) ? $selector['type'] : '';
        $text = static fn (string $name): string => \is_string($selector[$name] ?? null) ? $selector[$name] : '';
        $quote = 'TextQuoteSelector' === $type ? $this->quote($text('exact'), $text('prefix'), $text('suffix')) : null;
        if ('TextPositionSelector' === $type) {
            $this->position($selector['start'] ?? null, $selector['end'] ?? null, $within, $isRefining);
        } elseif ('CssSelector' === $type) {
            $this->others['CssSelector'] = true;
            $this->around ??= '' === $text('value') ? null : $text('value');
        } elseif ('TextQuoteSelector' !== $type) {
            $this->others['' === $type ? 'a selector without a type' : mb_substr($type, 0, 60)] = true;
        }
        // The innermost is what is meant; what it refines tells what stands around.
        $known = $this->quote;
        if (isset($selector['refinedBy'])) {
            $this->selectors($selector['refinedBy'], $quote, true);
        }
        if ($known === $this->quote && null !== $quote) {
            $this->quote ??= null === $within ? $quote : self::inside($within, $quote);
        }
    }

    /** Words that were found in other words, with what those say of the surroundings. */
    private static function inside(Quote $around, Quote $words): Quote
    {
        $at = '' === $words->exact ? false : mb_strpos($around->exact, $words->exact);

        return false === $at || '' !== $words->prefix.$words->suffix ? $words : self::part($around, $at, $at + mb_strlen($words->exact));
    }

    private static function part(Quote $quote, int $start, int $end): Quote
    {
        return new Quote(
            mb_substr($quote->exact, $start, $end - $start),
            $quote->prefix.' '.mb_substr($quote->exact, max(0, $start - Quote::MOST_AROUND), min($start, Quote::MOST_AROUND)),
            mb_substr($quote->exact, $end, Quote::MOST_AROUND).' '.$quote->suffix,
        );
    }

    private function quote(string $exact, string $prefix, string $suffix): ?Quote
    {
        if (\strlen($exact) > Quote::MOST_BYTES) {
            $this->others['a quotation that is too long'] = true;

            return null;
        }
        $quote = new Quote(
            $exact, substr($prefix, -8 * Quote::MOST_AROUND), mb_strcut($suffix, 0, 8 * Quote::MOST_AROUND),
        );
        if ($quote->isEmpty()) {
            $this->others['an empty TextQuoteSelector'] = true;

            return null;
        }

        return $quote;
    }

    private function position(mixed $start, mixed $end, ?Quote $within, bool $isRefining): void
    {
        if (!\is_int($start) || !\is_int($end) || $start < 0 || $end < $start) {
            $this->others['a TextPositionSelector without numbers'] = true;
        } elseif (null !== $within && $end > $start && $end <= mb_strlen($within->exact)) {
            $this->quote ??= self::part($within, $start, $end);
        } elseif (!$isRefining) {
            $this->start ??= $start;
            $this->end ??= $end;
        }
    }

    /** @return list<mixed> what may be one or several */
    private static function several(mixed $value): array
    {
        return null === $value ? [] : (\is_array($value) && array_is_list($value) ? $value : [$value]);
    }
}
