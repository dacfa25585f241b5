<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Annotation;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\Edited\Layouts;
use Ypomna\Tests\Support\Edited\MarkScore;

/**
 * Marks on pages of six languages that were altered in known ways; half of the marks on what was altered.
 *
 * What is missed where the old page is known, the comparison told otherwise, too: one sentence of a pattern removed and another of it
 * added, which may as well have been reworded. From a quotation alone, a sentence that is gone cannot be told from one of the same
 * pattern elsewhere.
 */
final class MarkQualityTest extends TestCase
{
    /**
     * @param list<string> $layouts
     * @param array<string, array{int, int}> $places right and all, by what became of the mark
     */
    #[DataProvider('sets')]
    public function testMarksAreFoundAgain(array $layouts, int $seed, bool $isOldKnown, array $places): void
    {
        $found = MarkScore::over($layouts, 1, $seed, $isOldKnown)->places;
        ksort($found);
        self::assertSame($places, $found);
    }

    /** @return iterable<string, array{list<string>, int, bool, array<string, array{int, int}>}> */
    public static function sets(): iterable
    {
        yield 'old page known' => [Layouts::TUNED, 1, true, ['gone' => [126, 133], 'reworded' => [101, 101], 'same' => [414, 414]]];
        yield 'old page known, layouts kept aside' => [
            Layouts::ASIDE, 7_700, true, ['gone' => [100, 102], 'reworded' => [34, 34], 'same' => [224, 224]],
        ];
        yield 'by quotation' => [Layouts::TUNED, 1, false, ['gone' => [86, 133], 'reworded' => [85, 101], 'same' => [413, 414]]];
        yield 'by quotation, layouts kept aside' => [
            Layouts::ASIDE, 7_700, false, ['gone' => [53, 102], 'reworded' => [28, 34], 'same' => [222, 224]],
        ];
    }
}
