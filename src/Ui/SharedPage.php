<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Symfony\Component\HttpFoundation\ParameterBag;
use Ypomna\Core\Address\Url;

/** What somebody brings along when they come to keep a page: telephones put an address where others put words. */
final readonly class SharedPage
{
    private const LONGEST = 8_192;
    private const LONGEST_TITLE = 1_000;
    private const LONGEST_WORDS = 20_000;

    /**
     * @param string|null $url null if there is none in it
     * @param string $words that were selected or sent along, without the address
     */
    private function __construct(public ?string $url, public string $title, public string $words)
    {
    }

    /** @param ParameterBag<mixed> $given `url`, `title` and `text` (Web Share Target, clause 4.3) */
    public static function of(ParameterBag $given): self
    {
        $text = static function (string $name, int $most) use ($given): string {
            $value = $given->all()[$name] ?? '';

            return \is_string($value) ? trim(mb_strcut(mb_scrub($value), 0, $most)) : '';
        };
        $title = $text('title', self::LONGEST_TITLE);
        $words = $text('text', self::LONGEST_WORDS);
        $url = self::address($text('url', self::LONGEST));
        if (null === $url && 1 === preg_match('~https?://[^\s<>"]+~i', $words, $m)) {
            // What ends a sentence is not of the address.
            $found = rtrim($m[0], '.,;:!?)]}»”’');
            $url = self::address($found);
            $words = null === $url ? $words : trim(str_replace($found, '', $words));
        }
        $url ??= self::address($title);

        return new self($url, $title === $url ? '' : $title, $words);
    }

    private static function address(string $text): ?string
    {
        $url = Url::tryParse($text);

        return null !== $url && $url->isWeb() ? (string) $url->withoutUserinfo() : null;
    }
}
