<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * What a witness says of a copy of a page that was made in their browser: nobody else saw the server's answer. What their browser did not
 * see is not known, and is said to be unknown.
 */
final readonly class WitnessStatement
{
    /** What a browser can have seen: numbers, and words. */
    public const NUMBERS = ['status', 'bytes', 'width', 'height'];
    public const WORDS = ['type', 'charset', 'modified', 'protocol', 'referrer', 'browser'];

    /**
     * @param string $person whose browser it was
     * @param string|null $url of the page, as the browser had it; null if that was not said
     * @param \DateTimeImmutable|null $at when the copy was made
     * @param array<string, string|int> $seen what the browser saw of the answer and of itself, by names of NUMBERS and WORDS
     * @param string|null $part what of the page it shows, if not all of it
     * @param list<string> $missing what had not been loaded when the copy was made, in words
     * @param list<array{string, string}>|null $fields of the answer, name and value, as far as a browser shows them; null if it saw none
     */
    public function __construct(
        public string $person,
        public ?string $url = null,
        public ?\DateTimeImmutable $at = null,
        public array $seen = [],
        public ?string $part = null,
        public array $missing = [],
        public ?array $fields = null,
    ) {
    }

    /** Of the answer to the page; null if the browser did not see it. */
    public function status(): ?int
    {
        $status = $this->seen['status'] ?? null;

        return \is_int($status) && $status >= 100 && $status <= 599 ? $status : null;
    }

    /** @return array<string, mixed> as it stands in the file: what is unknown is null */
    public function toArray(): array
    {
        $seen = [];
        foreach ([...self::NUMBERS, ...self::WORDS] as $name) {
            $seen[$name] = $this->seen[$name] ?? null;
        }
        $seen['fields'] = $this->fields;

        return [
            'person' => $this->person, 'url' => $this->url, 'capturedAt' => $this->at?->format('Y-m-d\TH:i:s.u\Z'), 'seen' => $seen,
            'part' => $this->part, 'missing' => $this->missing,
        ];
    }
}
