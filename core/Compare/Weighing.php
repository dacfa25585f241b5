<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Compare\Noise\NoiseRules;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/**
 * Tells substance, surface and noise apart, by rules that can be told in a sentence each:
 *
 * - `rule`: somebody set a rule that covers it;
 * - `history`: at this place something else stood at nearly every capture;
 * - `counter`: a figure beside words for views, visitors, readers, comments or seconds;
 * - `made-at`: a line that says when the page was made or what time it is;
 * - `advertisement`, `related`: the elements around are named so;
 * - `letters`: the words are the same but for capitals, punctuation and spelling of signs;
 * - `moved`: the same words stand elsewhere;
 * - `words`: everything else, which is substance.
 */
final readonly class Weighing
{
    private const COUNTER = '/(?:\b(?:views?|visits?|visitors?|hits|readers?|reads|online|comments?|replies|likes|shares|followers?|'
        .'votes?|downloads?|members?|guests?|aufrufe|besucher|kommentare|leser|vues|visites|visiteurs|commentaires|visitas|comentarios|'
        .'προβολές|επισκέπτες|σχόλια|просмотр\w*|комментар\w*)\b|閲覧|アクセス|コメント)/iu';
    private const MADE_AT = '/(?:\b(?:page|site|seite|page)?\s*(?:generated|rendered|created|served|made|printed|loaded|retrieved|last'
        .' (?:update|refresh)(?:ed)?|cached|erzeugt|erstellt|generiert|généré\w*|generad\w+)\b.{0,30}\d)|(?:\b(?:current|local|'
        .'server)?\s*(?:time|uhrzeit|zeit|heure|hora|ώρα)\b\s*(?:is|now)?\s*:?\s*\d{1,2}[:.]\d\d)|^\W*(?:today(?: is)?|it is now|'
        .'now|heute(?: ist)?|aujourd.hui|hoy|σήμερα)\b.{0,20}\d|\b\d+(?:\.\d+)? ?(?:s|ms|seconds|queries)\b.{0,30}$|^©|'
        .'\bcopyright\b/iu';
    private const AGE = '/\b\d+\s*(?:seconds?|minutes?|mins?|hours?|days?|weeks?|months?|sekunden|minuten|stunden|tagen?|'
        .'wochen)\s+ago\b|\b(?:vor|il y a|hace|πριν)\s+\d+/iu';
    private const ADVERTISEMENT = '/(?:^|[^a-z])(?:ad|ads|adv|advert\w*|adbox|ad-?slot|ad-?unit|banner-?ad|sponsor\w*|promo\w*|werbung|'
        .'anzeige|publicite|pub|dfp|doubleclick)(?:$|[^a-z])/i';
    private const RELATED = '/(?:^|[^a-z])(?:related|recommend\w*|teasers?|also-?read|read-?more|read-?next|more-?stories|most-?(?:read|'
        .'popular|viewed)|popular|trending|latest-?(?:news|posts|stories)|you-?may|ticker|carousel|rotat\w*|aehnlich\w*|mehr-?zum)(?:$|'
        .'[^a-z])/i';

    public function __construct(private NoiseRules $rules = new NoiseRules(), private Habits $habits = new Habits())
    {
    }

    public function of(PassageChange $change): WeighedChange
    {
        $telling = ChangeKind::Changed === $change->kind ? TellingWords::among($change->words()) : [];
        $rule = $this->rules->covering($change->old, $change->new);
        [$weight, $reason] = match (true) {
            null !== $rule => [
                Weight::Noise, '' === $rule->pattern ? ('' === $rule->selector() ? $rule->quote : $rule->selector()) : $rule->pattern,
            ],
            $this->habits->covers($change) => [Weight::Noise, 'history'],
            default => self::byItself($change),
        };

        return new WeighedChange($change, $weight, $reason, $telling);
    }

    /** Whether a rule that was set passes over it. */
    public function isByRule(PassageChange $change): bool
    {
        return null !== $this->rules->covering($change->old, $change->new);
    }

    public function passesOverPlace(?Passage $passage): bool
    {
        return null !== $this->rules->holding($passage);
    }

    public function passesOverPath(string $path): bool
    {
        return '' !== $path && null !== $this->rules->holding(new Passage(PassageKind::Sentence, '', null, '', $path));
    }

    /** Whether two addresses differ in what a pattern passes over alone. */
    public function passesOverAddresses(string $old, string $new): bool
    {
        return [] !== array_intersect($this->rules->leftOf($old), $this->rules->leftOf($new));
    }

    /**
     * @return list<string> see {@see NoiseRules::leftOf()}
     */
    public function leftOfAddress(string $address): array
    {
        return $this->rules->leftOf($address);
    }

    /**
     * @return list<string> patterns that took too long and pass over nothing any more
     */
    public function setAside(): array
    {
        return $this->rules->setAside();
    }

    /**
     * @return array{Weight, string}
     */
    private static function byItself(PassageChange $change): array
    {
        $passage = $change->new ?? $change->old;
        if (null === $passage) {
            return [Weight::Noise, 'words'];
        }
        $names = self::names($change->old->path ?? '').' '.self::names($change->new->path ?? '');
        $onlyFigures = null !== $change->old && null !== $change->new && ChangeKind::Changed === $change->kind
            && self::withoutFigures($change->old) === self::withoutFigures($change->new);

        return match (true) {
            1 === preg_match(self::ADVERTISEMENT, $names) => [Weight::Noise, 'advertisement'],
            1 === preg_match(self::RELATED, $names) => [Weight::Noise, 'related'],
            ChangeKind::Moved === $change->kind => [Weight::Surface, 'moved'],
            null !== $change->old && null !== $change->new
                && self::letters($change->old) === self::letters($change->new) => [Weight::Surface, 'letters'],
            // In a table a figure is what the table is for; a counter is a short line of its own.
            $onlyFigures && PassageKind::Cell !== $passage->kind && \strlen($passage->text) <= 120
                && self::counts($passage) => [Weight::Noise, 'counter'],
            $onlyFigures && 1 === preg_match(self::MADE_AT, $passage->text) && \strlen($passage->text) <= 200 => [Weight::Noise, 'made-at'],
            $onlyFigures && \strlen($passage->text) <= 120 && 1 === preg_match(self::AGE, $passage->text) => [Weight::Noise, 'made-at'],
            default => [Weight::Substance, 'words'],
        };
    }

    private static function counts(Passage $passage): bool
    {
        // A sentence about visitors has a verb and more; a counter is little but the word and its figure.
        return 1 === preg_match(self::COUNTER, $passage->text)
            && substr_count(trim((string) preg_replace('/[\p{N}.,:\s]+/u', ' ', $passage->text)), ' ') < 6;
    }

    /** Ids and classes of the elements around. */
    private static function names(string $path): string
    {
        preg_match_all('/[#.]([^#.:\s]+)/', $path, $m);

        return implode(' ', $m[1]);
    }

    private static function withoutFigures(Passage $passage): string
    {
        return (string) preg_replace(
            '/(?:(?<!\p{L})(?:'.TellingWords::months()
                .'|(?:mon|tues?|wed(?:nes)?|thu(?:rs)?|fri|sat(?:ur)?|sun)(?:day)?)(?!\p{L})|\p{N}+)(?:[.,:\s\/-]*(?:\p{N}+|(?:'
                .TellingWords::months().')(?!\p{L})))*/iu',
            '0',
            $passage->key,
        );
    }

    private static function letters(Passage $passage): string
    {
        $text = mb_strtolower($passage->key);

        // A sign between figures or before one may be a minus, a comma, a percentage.
        return (string) preg_replace(
            '/(?<!\p{N})[^\p{L}\p{M}\p{N}%€$£¥+<>=#@&]+(?!\p{N})|(?<=\p{L})[^\p{L}\p{M}\p{N}]+(?=\s*\p{L})/u', '', $text,
        );
    }
}
