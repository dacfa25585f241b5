<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

use Ypomna\Core\Warc\WitnessStatement;

/** What somebody says of a file that they hand in. */
final readonly class SaidOfArrival
{
    /**
     * @param list<string> $tags
     * @param string|null $dossier code of the one that is to hold what it brings
     * @param string|null $due a day, `YYYY-MM-DD`
     * @param string|null $seenBy `browser` where a witness's browser made the copy
     * @param string|null $url of the page, as the browser had it
     * @param string|null $capturedAt when the browser made it, RFC 3339
     * @param string|null $picture how the page looked: a `data:` address, or the code of an upload that was begun for that
     * @param array<string, string|int> $seen what the browser saw of the answer, by names of {@see WitnessStatement}
     * @param string|null $part what of the page it shows, if not all of it
     * @param list<string> $missing what had not been loaded when the copy was made
     * @param string|null $with code of the job that captures the same page by the same act
     * @param list<array{string, string}>|null $fields of the answer that the browser saw: name and value; null if it saw none
     * @param bool $beside whether it is a picture that another file will name, and nothing by itself
     */
    public function __construct(
        public string $title = '',
        public string $why = '',
        public array $tags = [],
        public ?string $dossier = null,
        public ?string $due = null,
        public bool $confidential = false,
        public ?string $seenBy = null,
        public ?string $url = null,
        public ?string $capturedAt = null,
        public ?string $picture = null,
        public array $seen = [],
        public ?string $part = null,
        public array $missing = [],
        public bool $beside = false,
        public ?string $with = null,
        public ?array $fields = null,
    ) {
    }

    /** @return array<string, mixed> what is not as usual */
    public function toArray(): array
    {
        return array_filter([
            'title' => $this->title, 'why' => $this->why, 'tags' => $this->tags, 'dossier' => $this->dossier, 'due' => $this->due,
            'confidential' => $this->confidential, 'seenBy' => $this->seenBy, 'url' => $this->url, 'capturedAt' => $this->capturedAt,
            'picture' => $this->picture, 'seen' => $this->seen, 'part' => $this->part, 'missing' => $this->missing,
            'beside' => $this->beside, 'with' => $this->with, 'fields' => $this->fields,
        ], static fn (mixed $value): bool => !\in_array($value, ['', [], null, false], true));
    }

    /** @param array<mixed> $values of {@see toArray()} */
    public static function fromArray(array $values): self
    {
        $text = static fn (string $name): ?string => \is_string($values[$name] ?? null) ? $values[$name] : null;

        return new self(
            $text('title') ?? '', $text('why') ?? '',
            array_values(array_filter(\is_array($values['tags'] ?? null) ? $values['tags'] : [], \is_string(...))), $text('dossier'),
            $text('due'), true === ($values['confidential'] ?? null), $text('seenBy'), $text('url'), $text('capturedAt'), $text('picture'),
            array_filter(
                \is_array($values['seen'] ?? null) ? $values['seen'] : [],
                static fn (mixed $one, int|string $name): bool => \is_string($name) && (\is_string($one) || \is_int($one)),
                \ARRAY_FILTER_USE_BOTH,
            ), $text('part'), array_values(array_filter(\is_array($values['missing'] ?? null) ? $values['missing'] : [], \is_string(...))),
            true === ($values['beside'] ?? null), $text('with'), self::fields($values['fields'] ?? null),
        );
    }

    /** @return list<array{string, string}>|null */
    private static function fields(mixed $said): ?array
    {
        $fields = [];
        foreach (\is_array($said) ? $said : [] as $one) {
            if (\is_array($one) && \is_string($one[0] ?? null) && \is_string($one[1] ?? null)) {
                $fields[] = [$one[0], $one[1]];
            }
        }

        return [] === $fields ? null : $fields;
    }
}
