<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Citation;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Citation\Fit;
use Ypomna\Core\Citation\Quotations;

/** Whether a page bears out what a reference says. */
final class FitTest extends TestCase
{
    private const PAGE = 'On Monday the crew measured fourteen centimetres of water on the car deck. “They sailed with it,” said a'
        .' passenger. The door was closed at 06:10.';

    public function testQuotations(): void
    {
        $fit = Fit::of(
            [
                'fourteen centimetres of water on the car deck',
                'forty centimetres of water on the car deck',
                'the crew … closed at 06:10.',
                "They  sailed with\nit",
                'nothing of this is in it at all',
            ],
            '',
            self::PAGE,
        );
        self::assertSame([true, false, true, true, false], array_column($fit->quotes, 'stands'));
        self::assertTrue(Fit::isNearly($fit->quotes[1]['share']));
        self::assertFalse(Fit::isNearly($fit->quotes[4]['share']));
        self::assertSame(3, $fit->standing());
    }

    public function testWordsInAnotherOrderDoNotStandThere(): void
    {
        self::assertSame(0, Fit::of(['closed at 06:10 … measured fourteen centimetres'], '', self::PAGE)->standing());
    }

    public function testTellingWords(): void
    {
        self::assertSame(
            1.0, Fit::of([], 'The crew measured water at 06:10 (accessed 3 November 2024). http://elsewhere.test/x', self::PAGE)->share,
        );
        self::assertEqualsWithDelta(0.0, Fit::of([], 'Timetables, fares and prices of summer 2026', self::PAGE)->share, 0.01);
        self::assertNull(Fit::of([], 'See there.', self::PAGE)->share);
        self::assertSame(1.0, Fit::of(['耐用年数は三年です'], '', '製品の耐用年数は三年です。')->quotes[0]['share']);
    }

    public function testWhatIsQuoted(): void
    {
        self::assertSame(
            ['a b c', 'd e f', 'g h i', 'j k l', '耐用年数は三年', 'mmm nnn ooo'],
            Quotations::in('“a b c” „d e f“ «g h i» "j k l" 「耐用年数は三年」 ‘mmm nnn ooo’ don’t and it’s “one two” "x"'),
        );
    }
}
