<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Twig;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Contracts\Translation\LocaleAwareInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Extension\AbstractExtension;
use Twig\Markup;
use Twig\TwigFilter;
use Twig\TwigFunction;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\ReaderZone;
use Ypomna\Core\PlainText;

/** How moments, sizes and files of the interface are written. */
final class FormatExtension extends AbstractExtension
{
    public function __construct(
        private readonly ReaderZone $zone,
        private readonly TranslatorInterface $translator,
        #[Autowire('%kernel.project_dir%/public')] private readonly string $public,
    ) {
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('moment', $this->moment(...), ['is_safe' => ['html']]),
            new TwigFilter('day', $this->day(...), ['is_safe' => ['html']]),
            new TwigFilter('sentence', $this->sentence(...), ['is_safe' => ['html']]),
            new TwigFilter('word', $this->word(...)),
            new TwigFilter('explained', $this->explained(...)),
            new TwigFilter('plain_day', $this->plainDay(...)),
            new TwigFilter('utc', $this->utc(...)),
            new TwigFilter('bytes', $this->bytes(...)),
            new TwigFilter('share', $this->share(...)),
            new TwigFilter('days', $this->days(...)),
            new TwigFilter('shown_address', $this->shownAddress(...)),
            new TwigFilter('short_name', $this->shortName(...)),
            new TwigFilter('cut', static fn (?string $text, int $width): string => mb_strimwidth((string) $text, 0, $width, '…')),
            new TwigFilter('plain', static fn (?string $text): string => PlainText::line((string) $text)),
        ];
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('built', $this->built(...))];
    }

    /** In the reader's zone, which is named. */
    public function moment(\DateTimeImmutable $moment): Markup
    {
        return self::markup(\sprintf(
            '<time datetime="%s">%s</time>',
            $moment->format('Y-m-d\TH:i:s.v\Z'),
            htmlspecialchars($this->inWords($moment).$moment->setTimezone($this->zone->zone())->format(', H:i:s T')),
        ));
    }

    public function day(\DateTimeImmutable $moment): Markup
    {
        return self::markup(\sprintf(
            '<time datetime="%s">%s</time>',
            $moment->format('Y-m-d\TH:i:s.v\Z'),
            htmlspecialchars($this->inWords($moment)),
        ));
    }

    /**
     * A message in whose places stand days, moments, numbers and texts. What is no markup of ours is escaped.
     *
     * @param array<string, string|int|float|Markup> $values
     */
    public function sentence(string $key, array $values = []): string
    {
        return $this->translator->trans($key, array_map(
            static fn (string|int|float|Markup $value): string|int|float => \is_string($value) ? htmlspecialchars($value)
                : ($value instanceof Markup ? (string) $value : $value),
            $values,
        ));
    }

    /** Why something is as it is, as it was kept. */
    public function explained(?string $kept): string
    {
        return null === $kept ? '' : Explanation::of($kept)->trans($this->translator);
    }

    /**
     * The word for a state, a reason or another value of a closed set: the message `FAMILY.VALUE`. This is the only place where the name of
     * a message is put together.
     *
     * @param mixed $value what is no text, as a file of somebody else may have it in its place, has no word
     * @param array<string, string|int|float|Markup> $values
     */
    public function word(mixed $value, string $family, array $values = []): string|Markup
    {
        if (!\is_string($value)) {
            return '';
        }
        $key = $family.'.'.$value;

        return [] === $values ? $this->translator->trans($key) : self::markup($this->sentence($key, $values));
    }

    /** In the reader's zone, as text: for what takes no markup. */
    public function plainDay(\DateTimeImmutable $moment): string
    {
        return $this->inWords($moment);
    }

    /** A day in the reader's zone and language. */
    private function inWords(\DateTimeImmutable $moment): string
    {
        $there = $moment->setTimezone($this->zone->zone());
        $language = $this->translator instanceof LocaleAwareInterface ? $this->translator->getLocale() : 'en';
        // In English as ever: the short names of months differ from one version of ICU to the next.
        $said = str_starts_with($language, 'en') ? false : (new \IntlDateFormatter(
            $language, \IntlDateFormatter::NONE, \IntlDateFormatter::NONE, $there->getTimezone(), \IntlDateFormatter::GREGORIAN, 'd MMM y',
        ))->format($there);

        return false === $said ? $there->format('j M Y') : $said;
    }

    public function utc(\DateTimeImmutable $moment): string
    {
        return $moment->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.v').' UTC';
    }

    /** A span of time in words, in the unit that suits it. */
    public function days(float $days): string
    {
        if (is_infinite($days) || $days > 36_500) {
            return (string) $this->word('years', 'count', ['n' => 100]);
        }
        [$unit, $span] = match (true) {
            $days < 1 / 16 => ['minutes', max(1, $days * 1_440)], $days < 2 => ['hours', $days * 24], $days < 21 => ['daysn', $days],
            $days < 100 => ['weeks', $days / 7], $days < 900 => ['months', $days / 30.44], default => ['years', $days / 365.25],
        };

        return (string) $this->word($unit, 'count', ['n' => $span < 10 && 'minutes' !== $unit ? round($span, 1) : round($span)]);
    }

    public function bytes(int $bytes): string
    {
        foreach (['B', 'kB', 'MB', 'GB', 'TB'] as $i => $unit) {
            if ($bytes < 1000 ** ($i + 1) || 'TB' === $unit) {
                return (0 === $i ? (string) $bytes : number_format($bytes / 1000 ** $i, $bytes / 1000 ** $i < 10 ? 1 : 0)).' '.$unit;
            }
        }

        return '';
    }

    /** A share of the whole, in words that never say “0 %” of something. */
    public function share(float $share): string
    {
        return match (true) {
            $share <= 0.0 => '0 %',
            $share < 0.01 => '< 1 %',
            default => round(100 * $share).' %',
        };
    }

    /** An address as people read it: without its scheme, its codes decoded where that is safe. */
    public function shownAddress(string $url): string
    {
        $shown = (string) preg_replace('~^https?://(?:[^/?#@]*@)?~', '', $url);
        $decoded = rawurldecode($shown);
        if (1 === preg_match('//u', $decoded) && 1 !== preg_match('/[\p{C}\p{Z}<>"]/u', $decoded)) {
            $shown = $decoded;
        }

        return (string) preg_replace('~^([^/]+)/$~', '$1', $shown);
    }

    /** A file name in which a digest is cut to its beginning. */
    public function shortName(string $name): string
    {
        return (string) preg_replace('/([0-9a-f]{12})[0-9a-f]{52}/', '$1…', $name);
    }

    /** Address of a built file, with a mark that changes when the file does. */
    public function built(string $name): string
    {
        return '/build/'.$name.'?'.substr((string) @hash_file('xxh3', $this->public.'/build/'.$name), 0, 8);
    }

    private static function markup(string $html): Markup
    {
        return new Markup($html, 'UTF-8');
    }
}
