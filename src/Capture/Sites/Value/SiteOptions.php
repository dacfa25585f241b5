<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\InvalidRules;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\Reach;
use Ypomna\Core\Crawl\Scope;

/** What somebody wants of a site. */
final readonly class SiteOptions
{
    public const MOST_SEEDS = 200;
    public const MOST_PAGES = 1_000_000;

    /**
     * @param list<string> $seeds
     * @param list<AddressPattern> $includes
     * @param list<AddressPattern> $excludes
     * @param string|null $overruled why robots.txt does not bind; null where it does
     * @param int $pause between two pages of a host, in milliseconds
     */
    public function __construct(
        public array $seeds,
        public string $name = '',
        public Reach $reach = Reach::Host,
        public ?int $depth = null,
        public array $includes = [],
        public array $excludes = [],
        public CaptureMode $how = CaptureMode::Plain,
        public ?string $overruled = null,
        public int $pause = 1_000,
        public bool $maps = true,
        public int $pages = 500,
        public int $bytes = 1_073_741_824,
        public int $seconds = 3_600,
        /** Whether only some may see it: whoever asks for it. */
        public bool $confidential = false,
    ) {
    }

    /**
     * From the fields of a form.
     *
     * @param array<string, string> $fields
     *
     * @throws InvalidAddress|InvalidRules with what is wrong, and where
     */
    public static function ofForm(array $fields): self
    {
        $seeds = [];
        foreach (explode("\n", str_replace("\r", "\n", $fields['seeds'] ?? '')) as $line) {
            if ('' !== trim($line)) {
                $seeds[(string) Url::typed($line)->withoutFragment()] = true;
            }
        }
        if ([] === $seeds) {
            throw new InvalidAddress('Say with which page of the site to begin.');
        }
        if (\count($seeds) > self::MOST_SEEDS) {
            throw new InvalidAddress(\sprintf('A site begins with at most %d pages; there are %d.', self::MOST_SEEDS, \count($seeds)));
        }
        $depth = trim($fields['depth'] ?? '');

        return new self(
            array_map(\strval(...), array_keys($seeds)), trim($fields['name'] ?? ''), Reach::tryFrom($fields['reach'] ?? '') ?? Reach::Host,
            '' === $depth ? null : max(0, min(60_000, (int) $depth)),
            AddressPattern::lines($fields['includes'] ?? ''), AddressPattern::lines($fields['excludes'] ?? ''),
            'rendered' === ($fields['how'] ?? '') ? CaptureMode::Rendered : CaptureMode::Plain,
            '1' === ($fields['overrule'] ?? '') ? mb_strimwidth(trim($fields['reason'] ?? ''), 0, 480, '…') : null,
            (int) round(1_000 * self::between($fields['pause'] ?? '', 1, 0, 60)), '1' === ($fields['maps'] ?? '1'),
            (int) self::between($fields['pages'] ?? '', 500, 1, self::MOST_PAGES),
            (int) (1_000_000 * self::between($fields['megabytes'] ?? '', 1_000, 1, 1_000_000)),
            (int) (60 * self::between($fields['minutes'] ?? '', 60, 1, 100_000)), '1' === ($fields['confidential'] ?? ''),
        );
    }

    public function scope(): Scope
    {
        return new Scope($this->reach, $this->seeds, $this->depth, $this->includes, $this->excludes);
    }

    private static function between(string $text, float $usual, float $least, float $most): float
    {
        $text = str_replace(',', '.', trim($text));

        return is_numeric($text) ? max($least, min($most, (float) $text)) : $usual;
    }
}
