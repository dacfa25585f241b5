<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\Lifetimes;
use Ypomna\App\Liveness\Value\HeldLife;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Tests\Support\WarcBuilder;

/** How much of what is held is still alive. */
final class HoldingsAliveTest extends AppTestCase
{
    public function testLivesAreKnownFromCapturesAndLooks(): void
    {
        $this->takeIn((new WarcBuilder())
            ->exchange(
                'http://a.test/gone', '2024-01-01T00:00:00Z', '<p>x', destination: 'document',
            )->exchange('http://a.test/gone', '2024-03-01T00:00:00Z', '<p>x', destination: 'document')->exchange(
                'http://a.test/gone', '2024-05-01T00:00:00Z', '<p>x', status: 404, destination: 'document',
            )
            ->exchange('http://www.a.test/back', '2024-01-01T00:00:00Z', '<p>x', destination: 'document')->exchange(
                'http://www.a.test/back', '2024-02-01T00:00:00Z', '<p>x', status: 404, destination: 'document',
            )->exchange('http://www.a.test/back', '2024-03-01T00:00:00Z', '<p>x', destination: 'document')
            ->exchange('http://b.test/looked', '2024-01-01T00:00:00Z', '<p>x', destination: 'document')
            ->exchange('http://b.test/never', '2024-01-01T00:00:00Z', '<p>x', status: 404, destination: 'document'));
        $url = Url::parse('http://b.test/looked');
        $id = array_values(self::service(CheckQueue::class)->ids(Viewer::system(), [$url]))[0];
        self::service(CheckRepository::class)->enter(
            $id, new CheckResult($url, $url, [], 410), new Assessment(LiveReason::Gone, ['Gone.'], 0.9), null,
        );

        [$lives, $every] = self::service(Lifetimes::class)->all(Viewer::system());
        self::assertSame(1, $every);
        $known = [];
        foreach ($lives as $one) {
            $known[] = [$one->host, round($one->life->alive), null === $one->life->gone ? null : $one->life->gone > 100];
        }
        sort($known);
        self::assertSame([['a.test', 60.0, null], ['a.test', 60.0, true], ['b.test', 0.0, true]], $known);
        self::assertSame([2024], array_values(array_unique(array_map(static fn (HeldLife $one): int => $one->year, $lives))));

        $shown = $this->get('/holdings/alive');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('3 addresses, 2 vanished', $shown);
        self::assertStringContainsString('class="curve"', $shown);
        self::assertStringContainsString('"all","","3","2"', $this->get('/holdings/alive.csv'));
    }

    public function testWithoutHoldingsItSaysWhatToDo(): void
    {
        self::assertStringContainsString('Nothing is held yet', $this->get('/holdings/alive'));
        $this->get('/holdings/alive.csv');
        self::assertSame(200, $this->answered());
    }
}
