<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Completeness;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Completeness\DeclaredCompleteness;

final class SaidTest extends TestCase
{
    public function testWhereTheGapsLieIsTakenAsFarAsItIsSound(): void
    {
        $said = DeclaredCompleteness::read(['verdict' => 'gaps', 'extent' => 'part', 'places' => ['page' => [1280, 3000], 'gaps' => [
            ['url' => 'http://a.test/x.png', 'box' => [10, -5, 300, 200]], ['url' => 'http://a.test/y.png', 'box' => [1, 2, 3]],
            ['url' => 7, 'box' => [1, 2, 3, 4]], ['url' => 'http://a.test/z.png', 'box' => [1, 2, '"><script>', 4]], 'nonsense',
        ]]]);
        self::assertSame(
            ['page' => [1280, 3000], 'gaps' => [['url' => 'http://a.test/x.png', 'box' => [10, -5, 300, 200]]]], $said['places'] ?? null,
        );
        self::assertSame('part', $said['extent'] ?? null);
    }

    #[TestWith([null])]
    #[TestWith(['x'])]
    #[TestWith([['page' => [0, 10], 'gaps' => [['url' => 'a', 'box' => [1, 2, 3, 4]]]]])]
    #[TestWith([['page' => [10, 2_000_000], 'gaps' => [['url' => 'a', 'box' => [1, 2, 3, 4]]]]])]
    #[TestWith([['page' => [10, 10], 'gaps' => []]])]
    #[TestWith([['page' => ['10', '10'], 'gaps' => [['url' => 'a', 'box' => [1, 2, 3, 4]]]]])]
    public function testAndElseNot(mixed $places): void
    {
        $said = DeclaredCompleteness::read(['verdict' => 'gaps', 'extent' => 'everything', 'places' => $places]);
        self::assertNotNull($said);
        self::assertSame([null, null], [$said['places'], $said['extent']]);
    }
}
