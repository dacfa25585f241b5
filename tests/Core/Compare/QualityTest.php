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
    /** @param list<string> $layouts */
    #[DataProvider('sets')]
    public function testWhatWasAlteredIsFoundAndNothingElse(array $layouts, int $seed): void
    {
        $score = Score::over($layouts, 4, $seed);
        $misses = "\n".implode("\n", \array_slice($score->misses, 0, 20));
        self::assertGreaterThanOrEqual(0.97, $score->f1(), $misses);
        self::assertSame([0, 0], [$score->falselyIdentical, $score->falselyDifferent], $misses);
        foreach (['added', 'removed', 'changed', 'moved', 'link', 'picture'] as $kind) {
            self::assertGreaterThanOrEqual(0.95, $score->f1($kind), $kind.$misses);
        }
    }

    /**
     * @return iterable<string, array{list<string>, int}>
     */
    public static function sets(): iterable
    {
        yield 'layouts that were looked at' => [Layouts::TUNED, 1];
        yield 'layouts kept aside' => [Layouts::ASIDE, 7_700];
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
        foreach (['sloppy', 'xhtml', 'deep', 'plain', 'lines'] as $layout) {
            $after = Document::fromHtml(Layouts::html($layout, $content), 'text/html; charset=utf-8');
            $kinds = array_map(
                static fn ($change): string => $change->kind->value.' '.($change->old->text ?? $change->new->text ?? ''),
                PageComparison::of($before, $after)->changes,
            );
            // Links in a paragraph of their own, or with other signs between them, are another line.
            self::assertLessThanOrEqual(6, \count($kinds), $layout.' '.implode("\n", $kinds));
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
