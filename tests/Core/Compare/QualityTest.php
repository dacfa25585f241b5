<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Page\Document;
use Ypomna\Tests\Support\Edited\Chance;
use Ypomna\Tests\Support\Edited\Content;
use Ypomna\Tests\Support\Edited\Layouts;
use Ypomna\Tests\Support\Edited\Noise;
use Ypomna\Tests\Support\Edited\Score;
use Ypomna\Tests\Support\Edited\Sentences;

/** Pages of six languages in fourteen layouts, altered in ways that are known. */
final class QualityTest extends TestCase
{
    /**
     * @param list<string> $layouts
     * @param list<string> $misses what is told otherwise than it was altered
     */
    #[DataProvider('sets')]
    public function testWhatWasAlteredIsFoundAndNothingElse(array $layouts, int $seed, float $f1, array $misses): void
    {
        $score = Score::over($layouts, 4, $seed);
        self::assertSame($misses, $score->misses);
        self::assertSame([0, 0], [$score->falselyIdentical, $score->falselyDifferent]);
        self::assertSame($f1, round($score->f1(), 4));
    }

    /**
     * @return iterable<string, array{list<string>, int, float, list<string>}>
     */
    public static function sets(): iterable
    {
        // One sentence removed, another added that differs in a place and a number: told as moved and changed.
        yield 'layouts that were looked at' => [Layouts::TUNED, 1, 0.9968, [
            'oldTables en: found changed, moved|The company announced that service to Merrow would resume after 14 days.|The company'
                .' announced that service to Weir Island would resume after 30 days.',
            'oldTables en: missed added||The company announced that service to Weir Island would resume after 30 days.',
            'oldTables en: missed removed|The company announced that service to Merrow would resume after 14 days.|',
            'forum ja: found changed, moved|会社はLow Quayへの運航を16日後に再開すると発表した。|会社はOsterhavenへの運航を12日後に再開すると発表した。',
            'forum ja: missed added||会社はOsterhavenへの運航を12日後に再開すると発表した。',
            'forum ja: missed removed|会社はLow Quayへの運航を16日後に再開すると発表した。|',
        ]];
        yield 'layouts kept aside' => [Layouts::ASIDE, 7_700, 1.0, []];
    }

    #[DataProvider('languages')]
    public function testWhatNoReaderSeesIsNoDifference(string $language): void
    {
        foreach ([...Layouts::TUNED, ...Layouts::ASIDE] as $n => $layout) {
            $chance = new Chance(40 + $n);
            $html = Layouts::html($layout, Content::make($chance, new Sentences($chance, $language)));
            $comparison = PageComparison::of(
                Document::fromHtml($html, 'text/html; charset=utf-8'),
                Document::fromHtml(Noise::over($html, $chance), 'text/html; charset=utf-8'),
            );
            self::assertTrue($comparison->isIdentical(), $layout);
        }
    }

    /** The same words in another layout are the same text. */
    #[DataProvider('languages')]
    public function testALayoutIsNoText(string $language): void
    {
        $content = Content::make($chance = new Chance(9), new Sentences($chance, $language));
        $before = Document::fromHtml(Layouts::html('article', $content), 'text/html; charset=utf-8');
        // Links in a paragraph of their own, or with other signs between them, are another line.
        foreach (['sloppy' => 1, 'xhtml' => 5, 'deep' => 5, 'plain' => 1, 'lines' => 1] as $layout => $lines) {
            $after = Document::fromHtml(Layouts::html($layout, $content), 'text/html; charset=utf-8');
            $kinds = array_map(
                static fn ($change): string => $change->kind->value.' '.($change->old->text ?? $change->new->text ?? ''),
                PageComparison::of($before, $after)->changes,
            );
            self::assertCount($lines, $kinds, $layout.' '.implode("\n", $kinds));
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function languages(): iterable
    {
        foreach (Sentences::LANGUAGES as $language) {
            yield $language => [$language];
        }
    }
}
