<?php

declare(strict_types=1);

namespace Ypomna\Tests\Rules;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Finder\Finder;
use Symfony\Component\Yaml\Yaml;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Exchange\Value\ParcelState;
use Ypomna\App\Network\Extent;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\Core\Citation\DraftFormat;
use Ypomna\Core\Compare\HiddenKind;
use Ypomna\Core\Compare\Noise\RuleKind;
use Ypomna\Core\Compare\PictureRelation;
use Ypomna\Core\Compare\Telling;
use Ypomna\Core\Compare\Weight;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Crawl\Reach;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\LiveVerdict;
use Ypomna\Core\Liveness\Standing;
use Ypomna\Core\Recurrence\ConditionKind;

/** Every text of the interface stands in the catalogue, is asked for, and is asked for by its whole key. */
final class MessagesTest extends TestCase
{
    /** Families of words, and the closed sets whose words they are. */
    private const SETS = [
        'stage' => CaptureStage::class, 'list' => ListState::class, 'scope' => RuleScope::class, 'arrival' => ArrivalState::class,
        'count.arrival' => ArrivalState::class, 'parcel' => ParcelState::class, 'asked' => Extent::class, 'event' => EventKind::class,
        'watching' => WatchScope::class, 'watch' => WatchState::class, 'draft' => DraftFormat::class, 'hidden' => HiddenKind::class,
        'rulekind' => RuleKind::class, 'relation' => PictureRelation::class, 'telling' => Telling::class, 'weight' => Weight::class,
        'group' => Weight::class, 'gap' => GapKind::class, 'why' => GapReason::class, 'trouble' => Trouble::class,
        'verdict' => Verdict::class, 'verdict.long' => Verdict::class, 'reach' => Reach::class, 'ruling' => Ruling::class,
        'reason' => FailureReason::class, 'live' => LiveVerdict::class, 'live.why' => LiveReason::class, 'life' => Standing::class,
        'became' => Standing::class, 'condition' => ConditionKind::class,
    ];

    public function testNoTextIsMissingOrUnusedAndNoKeyIsPutTogether(): void
    {
        $messages = new Messages();
        foreach (Finder::create()->files()->in(self::root().'/templates')->name('*.twig') as $file) {
            $messages->template($file->getRelativePathname(), $file->getContents());
        }
        foreach (Finder::create()->files()->in(self::root().'/src')->name('*.php') as $file) {
            $messages->code($file->getRelativePathname(), $file->getContents());
        }
        self::assertSame([], $messages->compare(self::known()));
    }

    public function testEachValueOfAClosedSetHasItsWord(): void
    {
        $known = array_flip(self::known());
        $missing = [];
        foreach (self::SETS as $family => $set) {
            foreach ($set::cases() as $case) {
                if (!isset($known[$family.'.'.$case->value])) {
                    $missing[] = $family.'.'.$case->value;
                }
            }
        }
        self::assertSame([], $missing);
    }

    /** @param list<string> $faults */
    #[DataProvider('faults')]
    public function testFaultsAreFound(string $template, string $code, array $faults): void
    {
        $messages = new Messages();
        $messages->template('a.html.twig', $template);
        $messages->code('A.php', $code);
        self::assertSame($faults, $messages->compare(['ui.known', 'life.alive']));
    }

    /** @return iterable<string, array{string, string, list<string>}> */
    public static function faults(): iterable
    {
        $uses = "{{ 'ui.known'|trans }}{{ x|word('life') }}";
        yield 'sound' => [$uses, '', []];
        yield 'missing' => [$uses."{{ 'ui.none'|trans }}", '', ['a.html.twig: “ui.none” has no text.']];
        yield 'missing in code' => [$uses, "\$t->trans('ui.none')", ['A.php: “ui.none” has no text.']];
        yield 'missing in what is kept' => [$uses, "new Explanation('ui.none')", ['A.php: “ui.none” has no text.']];
        yield 'unused' => ["{{ x|word('life') }}", '', ['“ui.known” is asked for by nobody.']];
        yield 'unused family' => ["{{ 'ui.known'|trans }}", '', ['“life.alive” is asked for by nobody.']];
        yield 'put together' => [$uses."\n{{ ('ui.' ~ x)|trans }}", '', ['a.html.twig:2: asked for by something else than a key']];
        yield 'put together at its end' => [$uses."{{ x ~ 'ui.known'|trans }}", '', ['a.html.twig:1: put together']];
        yield 'put together in code' => [$uses, "\$t->trans('ui.'.\$x)", ['A.php:1: put together']];
        yield 'English for a key' => [$uses."{{ 'Look up'|trans }}", '', ['a.html.twig:1: “Look up” is no key']];
        yield 'family without a name' => [$uses.'{{ x|word(y) }}', '', ['a.html.twig:1: a family without a name']];
    }

    /** @return list<string> */
    private static function known(): array
    {
        $messages = Yaml::parseFile(self::root().'/translations/messages+intl-icu.en.yaml');

        return array_map(\strval(...), array_keys(\is_array($messages) ? $messages : []));
    }

    private static function root(): string
    {
        return \dirname(__DIR__, 2);
    }
}
