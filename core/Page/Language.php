<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Which language a text is in, by its script and its commonest words; only where the page does not say. */
final class Language
{
    private const SCRIPTS = [
        'el' => '\p{Greek}', 'ja' => '[\p{Hiragana}\p{Katakana}]', 'ko' => '\p{Hangul}', 'zh' => '\p{Han}', 'ar' => '\p{Arabic}',
        'he' => '\p{Hebrew}', 'th' => '\p{Thai}', 'hi' => '\p{Devanagari}', 'ru' => '\p{Cyrillic}',
    ];
    private const WORDS = [
        'en' => 'the of and to in is was that for with it as on by at be this are from have not were had',
        'de' => 'der die das und in zu den von mit ist des auf für nicht ein eine dem sich als auch wurde war',
        'fr' => 'le la les de des et en un une du que est dans pour qui sur pas par au plus ne',
        'es' => 'el la los las de que y en un una por con para es del se no al lo su como',
        'it' => 'il la di che e un una per in del non si sono con da della è i le gli',
        'nl' => 'de het een van en in is dat op te zijn met voor niet aan er die ook',
        'pt' => 'o a de que e do da em um uma para com não os as no na por mais',
        'sv' => 'och att det i en som är på av för med den till inte om ett har',
        'pl' => 'i w na z do się nie że to jest o po jak za od przez', 'tr' => 've bir bu da de için ile olarak daha çok olan gibi',
    ];

    public static function of(string $text): ?string
    {
        $text = mb_strcut($text, 0, 20_000);
        $letters = max(1, (int) preg_match_all('/\p{L}/u', $text));
        foreach (self::SCRIPTS as $language => $script) {
            $share = (int) preg_match_all('/'.$script.'/u', $text) / $letters;
            if ($share > ('ja' === $language ? 0.1 : 0.4)) {
                return $language;
            }
        }
        preg_match_all('/\p{L}+/u', mb_strtolower($text), $m);
        $times = array_count_values($m[0]);
        $best = [0, null];
        foreach (self::WORDS as $language => $words) {
            $hits = 0;
            foreach (explode(' ', $words) as $word) {
                $hits += $times[$word] ?? 0;
            }
            if ($hits > $best[0]) {
                $best = [$hits, $language];
            }
        }

        return $best[0] >= max(3, 0.05 * \count($m[0])) ? $best[1] : null;
    }
}
