<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\Stemma;

final class StemmaTest extends TestCase
{
    public function testWhatLeadsToItStandsOnItsLeftAndWhereItLeadsOnItsRight(): void
    {
        self::assertEquals(['m' => [0, 0.0]], Stemma::around('m', []));
        self::assertEquals(
            ['m' => [0, 1.0], 'a' => [1, 0.5], 'x' => [2, 0.0], 'y' => [2, 1.0], 'b' => [1, 2.0], 'c' => [-1, 1.0]],
            Stemma::around('m', [['m', 'a'], ['m', 'b'], ['c', 'm'], ['a', 'x'], ['y', 'a'], ['x', 'b'], ['z', 'y'], ['m', 'm']]),
        );
    }

    public function testOneThatLeadsBothWaysStandsOnce(): void
    {
        self::assertEquals(['m' => [0, 0.0], 'a' => [1, 0.0]], Stemma::around('m', [['a', 'm'], ['m', 'a']]));
    }

    public function testAllThatIsTwoStepsFarHasAPlaceOfItsOwn(): void
    {
        mt_srand(11);
        for ($n = 0; $n < 300; ++$n) {
            $ties = [];
            for ($i = mt_rand(0, 120); $i > 0; --$i) {
                $ties[] = ['n'.mt_rand(0, 40), 'n'.mt_rand(0, 40)];
            }
            $places = Stemma::around('n0', $ties);
            $columns = [];
            foreach ($places as $key => [$column, $row]) {
                foreach ($columns[$column] ?? [] as $other) {
                    self::assertGreaterThanOrEqual(1.0, abs($other - $row), $key);
                }
                $columns[$column][] = $row;
                self::assertGreaterThanOrEqual(0.0, $row);
            }
            self::assertSame(self::reached($ties), self::sorted(array_map(strval(...), array_keys($places))));
        }
    }

    /**
     * @param list<array{string, string}> $ties
     *
     * @return list<string> all at most two steps from n0
     */
    private static function reached(array $ties): array
    {
        $reached = ['n0' => true];
        for ($step = 0; $step < 2; ++$step) {
            $now = $reached;
            foreach ($ties as [$from, $to]) {
                if (isset($now[$from]) || isset($now[$to])) {
                    $reached[$from] = $reached[$to] = true;
                }
            }
        }

        return self::sorted(array_map(strval(...), array_keys($reached)));
    }

    /**
     * @param list<string> $keys
     *
     * @return list<string>
     */
    private static function sorted(array $keys): array
    {
        sort($keys);

        return $keys;
    }
}
