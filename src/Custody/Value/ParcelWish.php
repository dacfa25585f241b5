<?php

declare(strict_types=1);

namespace Ypomna\App\Custody\Value;

/** What is to be put together, and how. */
final readonly class ParcelWish
{
    public const WARC = 'warc';
    public const MHTML = 'mhtml';
    public const MOST_CAPTURES = 10_000;
    public const MOST_PAGES = 200;

    /**
     * @param list<string> $captures   codes
     * @param list<string> $addresses  codes: all captures of each
     * @param bool         $everything all that is held, and nothing else counts
     * @param bool         $scripts    of MHTML: whether scripts stay
     */
    public function __construct(public array $captures, public array $addresses, public bool $everything, public string $format = self::WARC, public bool $scripts = false)
    {
    }

    /**
     * @return array{captures: list<string>, addresses: list<string>, everything: bool, format: string, scripts: bool}
     */
    public function toArray(): array
    {
        return ['captures' => $this->captures, 'addresses' => $this->addresses, 'everything' => $this->everything, 'format' => $this->format, 'scripts' => $this->scripts];
    }

    /**
     * @param array<mixed> $values
     */
    public static function fromArray(array $values): self
    {
        $codes = static fn (mixed $list): array => array_values(array_filter(\is_array($list) ? $list : [], \is_string(...)));

        return new self($codes($values['captures'] ?? null), $codes($values['addresses'] ?? null), true === ($values['everything'] ?? null), self::MHTML === ($values['format'] ?? null) ? self::MHTML : self::WARC, true === ($values['scripts'] ?? null));
    }
}
