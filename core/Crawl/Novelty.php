<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

/**
 * What the pages of one kind of address have shown so far. When page after page brings no text that the others had not, and leads
 * nowhere new, the kind is a trap: an empty calendar, the same page under ever new names. Where addresses carry dates or tokens,
 * pages that differ in numbers, months and days alone say the same.
 */
final class Novelty
{
    /** So many pages in a row have to bring nothing. */
    public const PATIENCE = 24;
    private const MOST = 4_096;
    private const LANGUAGES = [
        'en', 'de', 'fr', 'es', 'it', 'pt', 'nl', 'sv', 'da', 'nb', 'fi', 'pl', 'cs', 'hu', 'ro', 'tr', 'el', 'ru', 'uk', 'ar', 'he',
    ];
    /** A year and what goes with it, or what programs call such a thing. */
    private const DATED = '/\*|(?:^|[^0-9])0[-\/.]0(?:[-\/.]0)?(?:[^0-9]|$)|[?&](?:date|day|month|week|year|monat|jahr|datum|m|y|d|'
        .'cal[a-z]*|start|from|to|von)=[0*]/i';

    private static ?string $names = null;

    /** @var array<int, true> */
    private array $seen = [];
    private readonly bool $dated;

    /**
     * @param string $kind as `Traps::kind` gives it
     * @param string $state what `state()` gave; empty at the beginning
     * @param int $idle how many pages in a row brought nothing
     */
    public function __construct(string $kind, string $state = '', public int $idle = 0)
    {
        $this->dated = 1 === preg_match(self::DATED, $kind);
        foreach ('' === $state ? [] : (array) unpack('V*', $state) as $hash) {
            $this->seen[is_numeric($hash) ? (int) $hash : 0] = true;
        }
    }

    /**
     * @param list<string> $pieces texts of a page
     * @param bool $leadsOn whether it names an address of another kind, or a part, that was not known
     *
     * @return bool whether the kind is exhausted
     */
    public function add(array $pieces, bool $leadsOn): bool
    {
        $fresh = $leadsOn;
        foreach ($pieces as $piece) {
            $hash = crc32($this->dated ? self::dateless($piece) : $piece);
            if (!isset($this->seen[$hash])) {
                $fresh = true;
                if (\count($this->seen) < self::MOST) {
                    $this->seen[$hash] = true;
                }
            }
        }
        $this->idle = $fresh ? 0 : $this->idle + 1;

        return $this->idle >= self::PATIENCE;
    }

    public function state(): string
    {
        return pack('V*', ...array_keys($this->seen));
    }

    private static function dateless(string $piece): string
    {
        self::$names ??= self::names();

        return (string) preg_replace(['/'.self::$names.'/iu', '/\d+/'], ['', '0'], mb_scrub($piece));
    }

    /** Names of months and days, long and short, as a pattern. */
    private static function names(): string
    {
        $names = [];
        foreach (self::LANGUAGES as $language) {
            foreach (['MMMM', 'MMM', 'LLLL', 'LLL', 'EEEE', 'EEE', 'EE'] as $form) {
                $format = new \IntlDateFormatter($language, \IntlDateFormatter::NONE, \IntlDateFormatter::NONE, 'UTC', null, $form);
                for ($n = 0; $n < 12; ++$n) {
                    $name = $format->format((int) gmmktime(
                        12, 0, 0, str_contains($form, 'E') ? 1 : $n + 1, str_contains($form, 'E') ? $n % 7 + 1 : 1, 2024,
                    ));
                    if (\is_string($name) && mb_strlen($name) > 1) {
                        $names[rtrim($name, '.')] = true;
                    }
                }
            }
        }
        $names = array_map(static fn (string|int $name): string => preg_quote((string) $name, '/'), array_keys($names));
        usort($names, static fn (string $a, string $b): int => \strlen($b) <=> \strlen($a));

        return '(?<!\pL)(?:'.implode('|', $names).')(?!\pL)\.?';
    }
}
