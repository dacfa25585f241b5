<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Url;

/**
 * What a server says to addresses that nobody ever wrote, and whether a page is more than that. Menus, feet and stories that
 * others read stand on every page of a site; a page is there if it has words of its own, beside those, beside what turns from
 * one request to the next, and beside the address given back.
 */
final readonly class NothingThere
{
    /** So few words of its own are none. */
    private const FEW = 3;
    private const ARTICLE = 0.03;
    /** What turns does so by a little more or less. */
    private const TURNING = 1.3;

    /** @param non-empty-list<PageSigns> $said answers to made-up addresses */
    public function __construct(private array $said)
    {
    }

    /** @return float|null how sure it is that nothing is there, 0.8 to 1; null if there is something */
    public function explains(PageSigns $page): ?float
    {
        $first = $this->said[0];
        [$own, $all] = self::own($page, ...$this->said);
        // Where there is nothing to read, there is nothing to tell by.
        if ($all <= self::FEW) {
            return null;
        }
        if ($own <= min(self::FEW, max(1, (int) floor(self::ARTICLE * $all)))
            || ($own <= self::FEW && !$page->isArticle() && self::headOf($page) === self::headOf($first))) {
            return $page->isArticle() && $own > self::ARTICLE * $all ? null : 1.0;
        }
        $turning = null;
        foreach (\array_slice($this->said, 1) as $n => $second) {
            if ($page->isArticle() || self::headOf($page) !== self::headOf($first) || self::headOf($first) !== self::headOf($second)) {
                return null;
            }
            $turning = max($turning ?? 0, self::own($this->said[$n], $second)[0], self::own($second, $this->said[$n])[0]);
        }
        if (null === $turning) {
            return null;
        }

        return $own <= self::FEW + self::TURNING * $turning ? 0.85 : null;
    }

    /** Whether the page is, word for word and picture for picture, what the server shows with a status for what is not there. */
    public function isThat(PageSigns $page): bool
    {
        $error = $this->said[0];
        [$own, $all] = self::own($page, $error);

        return $all > self::FEW && $own <= self::FEW && !$page->isUnfilled() && $page->pictures() <= $error->pictures()
            && self::plain($page->document->title, $page->asked()) === self::plain($error->document->title, $error->asked());
    }

    /** Whether one answer tells enough: the page has nothing of its own, or a heading of its own. */
    public function isPlain(PageSigns $page): bool
    {
        return null !== $this->explains($page) || $page->isArticle() || self::headOf($page) !== self::headOf($this->said[0]);
    }

    /**
     * @return array{int, int} words of the page that stand in none of the others, and all of them
     */
    private static function own(PageSigns $page, PageSigns ...$others): array
    {
        $there = [];
        foreach ($others as $other) {
            foreach ($other->document->passages as $passage) {
                $there[self::plain($passage->text, $other->asked())] = true;
            }
        }
        $own = $all = 0;
        foreach ($page->document->passages as $passage) {
            $text = self::plain($passage->text, $page->asked());
            $words = self::words($text);
            $all += $words;
            $own += isset($there[$text]) ? 0 : $words;
        }

        return [$own, $all];
    }

    private static function headOf(PageSigns $page): string
    {
        foreach ($page->document->passages as $passage) {
            if ('heading' === $passage->kind->value) {
                return self::plain($passage->text, $page->asked());
            }
        }

        return self::plain($page->document->title, $page->asked());
    }

    /** Without the address that was asked for, and its last part as a title. */
    private static function plain(string $text, Url $url): string
    {
        $text = mb_strtolower($text);
        $name = mb_strtolower((string) preg_replace('/\.[a-z0-9]{1,5}$/i', '', basename(rawurldecode($url->path))));
        $echoes = [
            mb_strtolower((string) $url), mb_strtolower(rawurldecode((string) $url)), mb_strtolower($url->path),
            mb_strtolower(trim($url->path, '/')), $name, trim((string) preg_replace('/[-_+.]+/', ' ', $name)),
        ];
        $text = str_replace(array_filter($echoes, static fn (string $echo): bool => mb_strlen($echo) > 3), '', $text);

        return trim((string) preg_replace('/[\s\p{P}]+/u', ' ', $text));
    }

    /** How many words; of writing without blanks, how many there may be. */
    public static function words(string $text): int
    {
        $dense = (int) preg_match_all('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]/u', $text);

        return (int) preg_match_all(
            '/[\p{L}\p{N}]+/u', (string) preg_replace('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]+/u', ' ', $text),
        ) + intdiv($dense + 1, 2);
    }
}
