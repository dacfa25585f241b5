<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Liveness\Sight;
use Ypomna\Core\Liveness\Spell;
use Ypomna\Core\Liveness\Spells;
use Ypomna\Core\Liveness\Standing;

final class SpellsTest extends TestCase
{
    /**
     * @param array<string, int> $looks status by day; 0 leads on
     * @param list<string> $told
     */
    #[DataProvider('lives')]
    public function testWhatIsKnownOfAPage(array $looks, array $told): void
    {
        $sights = [];
        foreach ($looks as $day => $status) {
            $sights[] = new Sight(new \DateTimeImmutable($day), new \DateTimeImmutable($day), Standing::of($status, 0 === $status));
        }
        self::assertSame(
            $told,
            array_map(
                static fn (Spell $spell): string => $spell->from->format('Y-m-d').' '.$spell->to->format('Y-m-d').' '
                    .($spell->standing->value ?? '?').(null === $spell->became ? '' : ' '.$spell->became->value),
                Spells::of($sights),
            ),
        );
    }

    /** @return iterable<string, array{array<string, int>, list<string>}> */
    public static function lives(): iterable
    {
        yield 'never looked at' => [[], []];
        yield 'once' => [['2024-01-01' => 200], ['2024-01-01 2024-01-01 alive']];
        yield 'alive, then gone' => [
            ['2024-01-01' => 200, '2024-01-10' => 204, '2024-02-01' => 404, '2024-02-20' => 500],
            ['2024-01-01 2024-01-10 alive', '2024-01-10 2024-02-01 ? gone', '2024-02-01 2024-02-20 gone'],
        ];
        yield 'led on and back' => [
            ['2024-01-01' => 200, '2024-01-02' => 0, '2024-01-03' => 200],
            [
                '2024-01-01 2024-01-01 alive',
                '2024-01-01 2024-01-02 ? leads-on',
                '2024-01-02 2024-01-02 leads-on',
                '2024-01-02 2024-01-03 ? alive',
                '2024-01-03 2024-01-03 alive',
            ],
        ];
        yield 'a long time without a look' => [
            ['2024-01-01' => 200, '2024-01-08' => 200, '2024-01-15' => 200, '2024-06-01' => 200, '2024-06-08' => 200],
            ['2024-01-01 2024-01-15 alive', '2024-01-15 2024-06-01 ?', '2024-06-01 2024-06-08 alive'],
        ];
        yield 'looked at once a year or so' => [
            ['2020-01-01' => 200, '2021-01-01' => 200, '2021-12-01' => 200, '2024-01-01' => 200],
            ['2020-01-01 2021-12-01 alive', '2021-12-01 2024-01-01 ?', '2024-01-01 2024-01-01 alive'],
        ];
    }

    public function testASpellKnowsItsLooksAndItsLength(): void
    {
        $look = static fn (string $from, string $to): Sight => new Sight(
            new \DateTimeImmutable($from), new \DateTimeImmutable($to), Standing::Alive,
        );
        [$spell] = Spells::of([$look('2024-01-01', '2024-01-03'), $look('2024-01-05', '2024-01-09T12:00:00Z')]);
        self::assertSame([0, 1, 8], [$spell->first, $spell->last, $spell->days()]);
    }
}
