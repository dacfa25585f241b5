<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

/** What is to be put together, and how. */
final readonly class ParcelOptions
{
    public const WARC = 'warc';
    public const MHTML = 'mhtml';
    public const PDF = 'pdf';
    public const MOST_CAPTURES = 10_000;
    public const MOST_PAGES = 200;
    /** Of pages that are printed: each takes a browser. */
    public const MOST_PRINTED = 50;

    /**
     * @param list<string> $captures codes
     * @param list<string> $addresses codes: all captures of each
     * @param bool $everything all that is held, and nothing else counts
     * @param bool $scripts of MHTML: whether scripts stay
     * @param bool $compared whether it is the report of a comparison of the two captures, as PDF
     * @param string|null $document name of a page that we made ourselves and that is printed; the captures are those of which it speaks
     */
    public function __construct(
        public array $captures,
        public array $addresses,
        public bool $everything,
        public string $format = self::WARC,
        public bool $scripts = false,
        public bool $compared = false,
        public ?string $document = null,
    ) {
    }

    /** The format of that name; WARC if there is none. */
    public static function format(mixed $name): string
    {
        return \in_array($name, [self::MHTML, self::PDF], true) ? $name : self::WARC;
    }

    /**
     * @return array{captures: list<string>, addresses: list<string>, everything: bool, format: string, scripts: bool, compared: bool,
     *     document: string|null}
     */
    public function toArray(): array
    {
        return [
            'captures' => $this->captures, 'addresses' => $this->addresses, 'everything' => $this->everything, 'format' => $this->format,
            'scripts' => $this->scripts, 'compared' => $this->compared, 'document' => $this->document,
        ];
    }

    /**
     * @param array<mixed> $values
     */
    public static function fromArray(array $values): self
    {
        $codes = static fn (mixed $list): array => array_values(array_filter(\is_array($list) ? $list : [], \is_string(...)));

        return new self(
            $codes($values['captures'] ?? null), $codes($values['addresses'] ?? null), true === ($values['everything'] ?? null),
            self::format($values['format'] ?? null), true === ($values['scripts'] ?? null), true === ($values['compared'] ?? null),
            \is_string($values['document'] ?? null) ? $values['document'] : null,
        );
    }
}
