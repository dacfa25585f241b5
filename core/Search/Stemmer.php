<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** Stems of words by the Snowball algorithms (libstemmer 2), so that inflected forms find each other; none where the library is missing. */
final class Stemmer
{
    /** Languages by code (ISO 639-1) and by what the library calls them. */
    public const LANGUAGES = [
        'ar' => 'arabic', 'ca' => 'catalan', 'da' => 'danish', 'de' => 'german', 'el' => 'greek', 'en' => 'english', 'es' => 'spanish',
        'eu' => 'basque', 'fi' => 'finnish', 'fr' => 'french', 'ga' => 'irish', 'hi' => 'hindi', 'hu' => 'hungarian', 'hy' => 'armenian',
        'id' => 'indonesian', 'it' => 'italian', 'lt' => 'lithuanian', 'ne' => 'nepali', 'nl' => 'dutch', 'no' => 'norwegian',
        'pt' => 'portuguese', 'ro' => 'romanian', 'ru' => 'russian', 'sr' => 'serbian', 'sv' => 'swedish', 'ta' => 'tamil',
        'tr' => 'turkish', 'yi' => 'yiddish',
    ];
    private const SHORTEST = 4;
    private const DECLARATIONS = 'struct sb_stemmer; struct sb_stemmer *sb_stemmer_new(const char *algorithm, const char *encoding);'
        .'const unsigned char *sb_stemmer_stem(struct sb_stemmer *stemmer, const char *word, int size);'
        .'int sb_stemmer_length(struct sb_stemmer *stemmer);';
    private const REMEMBERED = 50_000;

    private static ?object $library = null;
    private static bool $isMissing = false;
    /** @var array<string, \FFI\CData|null> */
    private static array $stemmers = [];
    /** @var array<string, string> */
    private static array $stems = [];

    /**
     * @param string $word folded
     *
     * @return string the word itself where its language has no stems
     */
    public static function stem(string $language, string $word): string
    {
        if (!isset(self::LANGUAGES[$language])) {
            return $word;
        }
        $key = $language.' '.$word;
        if (isset(self::$stems[$key])) {
            return self::$stems[$key];
        }
        if (\count(self::$stems) >= self::REMEMBERED) {
            self::$stems = [];
        }

        $stem = self::made($language, self::prepared($language, $word));
        // What is left of some forms is another form yet: calamares, calamar, calam.
        for ($times = 0; $times < 3 && ($next = self::made($language, $stem)) !== $stem && mb_strlen($next) >= self::SHORTEST; ++$times) {
            $stem = $next;
        }

        return self::$stems[$key] = 'de' === $language && str_ends_with($stem, 'ss') ? substr($stem, 0, -1) : $stem;
    }

    public static function isThere(): bool
    {
        return null !== self::library();
    }

    /** Forms that the algorithm does not know: the Swedish definite ones in -et, -an and -orn. */
    private static function prepared(string $language, string $word): string
    {
        return 'sv' === $language && \strlen($word) >= 6
            ? (string) preg_replace(['/ets?$/D', '/(?<=a)ns?$/D', '/(?<=[eo]r)ns?$/D'], '', $word, 1) : $word;
    }

    private static function made(string $language, string $word): string
    {
        $stemmer = self::of($language);
        /** @var SnowballFunctions|null $library */
        $library = self::library();
        $stem = null === $stemmer || null === $library ? null : $library->sb_stemmer_stem($stemmer, $word, \strlen($word));
        if (null === $stem || null === $stemmer || null === $library) {
            return $word;
        }
        // What is folded has no accents, which some algorithms look for; what comes out is folded once more.
        $text = Folding::fold(\FFI::string($stem, max(0, $library->sb_stemmer_length($stemmer))));

        return '' === $text ? $word : $text;
    }

    private static function of(string $language): ?\FFI\CData
    {
        if (!\array_key_exists($language, self::$stemmers)) {
            /** @var SnowballFunctions|null $library */
            $library = self::library();
            self::$stemmers[$language] = $library?->sb_stemmer_new(self::LANGUAGES[$language], 'UTF_8');
        }

        return self::$stemmers[$language];
    }

    private static function library(): ?object
    {
        if (null === self::$library && !self::$isMissing) {
            try {
                self::$library = class_exists(\FFI::class) ? \FFI::cdef(self::DECLARATIONS, 'libstemmer.so.0d') : null;
            } catch (\FFI\Exception) {
                self::$library = null;
            }
            self::$isMissing = null === self::$library;
        }

        return self::$library;
    }
}
