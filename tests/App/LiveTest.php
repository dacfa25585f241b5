<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\Persistence\ManagerRegistry;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\NullLogger;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\CheckQueuedAddressesHandler;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\DueChecks;
use Ypomna\App\Liveness\HeldText;
use Ypomna\App\Liveness\HostSlots;
use Ypomna\App\Liveness\Message\CheckQueuedAddresses;
use Ypomna\App\Liveness\Surroundings;
use Ypomna\App\Liveness\Value\LiveState;
use Ypomna\App\Liveness\Value\TakenCheck;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Tests\Support\LivePlay;
use Ypomna\Tests\Support\TestClock;
use Ypomna\Tests\Support\WarcBuilder;

/** Looks at addresses: who takes them, what is kept of them, when they are final. */
final class LiveTest extends AppTestCase
{
    private CheckQueue $queue;
    private CheckRepository $checks;

    protected function setUp(): void
    {
        parent::setUp();
        $this->queue = self::service(CheckQueue::class);
        $this->checks = self::service(CheckRepository::class);
    }

    public function testWorkersLookAndWhatTheyFindIsKept(): void
    {
        $play = new LivePlay();
        $this->want(
            'http://a.test/ok/1', 'http://b.test/missing/1', 'http://c.test/moved/1', 'http://d.test/login/1', 'http://e.test/reset',
            'http://f.test/soft/1', 'http://a.test/gone/1',
        );
        $this->work($play->web());
        self::assertSame(
            ['alive', 'not-seen', 'moved', 'blocked', 'unreachable', 'not-seen', 'not-seen'],
            array_map(
                fn (string $url): string => $this->state($url)->word(),
                [
                    'http://a.test/ok/1', 'http://b.test/missing/1', 'http://c.test/moved/1', 'http://d.test/login/1',
                    'http://e.test/reset', 'http://f.test/soft/1', 'http://a.test/gone/1',
                ],
            ),
        );
        self::assertNull($this->queue->waits());
        $shown = $this->get('/live?q='.rawurlencode('http://b.test/missing/1'));
        self::assertStringContainsString('not found', $shown);
        self::assertStringContainsString('The server answered with status 404.', $shown);
        self::assertStringContainsString('never seen alive here', $shown);
        self::assertCount(2, $this->checks->history(Viewer::system(), 'http://c.test/moved/1')[0]->hops);
    }

    public function testTheHeldPageIsWhatItIsMeasuredBy(): void
    {
        $play = new LivePlay();
        $text = '<title>Tides</title><article><h1>Tides</h1><p>'
            .str_repeat('High water at Porth Merrow comes forty minutes after Saltmarch, in spring and in autumn. ', 12).'</p></article>';
        $this->takeIn((new WarcBuilder())->exchange('http://a.test/ok/1', '2024-11-03T10:00:00Z', $text)->exchange(
            'http://b.test/ok/1', '2024-11-03T10:00:00Z', '<title>b.test</title><h1>This domain is for sale</h1><p>Buy this domain.',
        ));
        $this->want('http://a.test/ok/1', 'http://b.test/ok/1');
        $this->work($play->web());
        self::assertSame('changed', $this->state('http://a.test/ok/1')->word());
        self::assertSame('alive', $this->state('http://b.test/ok/1')->word(), 'a parking page is no measure');
        self::assertSame(
            $this->captureOf('http://a.test/ok/1')->code, $this->checks->history(Viewer::system(), 'http://a.test/ok/1')[0]->against,
        );
        self::assertNull($this->checks->history(Viewer::system(), 'http://b.test/ok/1')[0]->against);
        self::assertStringContainsString(
            'has another text', $this->get('/address/'.$this->captureOf('http://a.test/ok/1')->address->code),
        );
    }

    public function testVanishedIsFinalAfterThreeLooksFarApart(): void
    {
        $id = $this->want('http://a.test/x')[0];
        foreach ([[0, 'not-seen'], [1, 'not-seen'], [9, 'not-seen'], [50, 'vanished']] as [$hours, $word]) {
            TestClock::forward($hours.' hours');
            $this->enter($id, 'http://a.test/x', LiveReason::NotFound);
            self::assertSame($word, $this->state('http://a.test/x')->word());
        }
        $this->enter($id, 'http://a.test/x', LiveReason::Ok);
        self::assertSame('alive', $this->state('http://a.test/x')->word());
        self::assertStringContainsString('All 5 checks', $this->get('/live?q=a.test/x'));
    }

    public function testFurtherLooksAreTakenUnasked(): void
    {
        [$gone, $alive, $down] = $this->want('http://a.test/gone', 'http://a.test/alive', 'http://a.test/down');
        $this->enter($gone, 'http://a.test/gone', LiveReason::NotFound);
        $this->enter($alive, 'http://a.test/alive', LiveReason::Ok);
        $this->enter($down, 'http://a.test/down', LiveReason::Timeout);
        self::assertSame(0, self::service(DueChecks::class)->want());
        TestClock::forward('2 days');
        self::assertSame(2, self::service(DueChecks::class)->want());
        self::assertSame(0, self::service(DueChecks::class)->want(), 'what is wanted is wanted once');
        self::assertFalse($this->state('http://a.test/alive')->isWanted);
    }

    public function testTwoAtAHostAndEachOnce(): void
    {
        $this->want('http://a.test/1', 'http://a.test/2', 'http://a.test/3', 'http://b.test/1');
        $taken = [];
        while (null !== ($one = $this->queue->take('here:1'))) {
            $taken[] = (string) $one->url;
        }
        self::assertSame(['http://a.test/1', 'http://a.test/2', 'http://b.test/1'], $taken);
        $this->queue->release('here:1');
        self::assertInstanceOf(TakenCheck::class, $this->queue->take('here:2'));
        $this->queue->want(array_values($this->queue->ids(Viewer::system(), [Url::parse('http://a.test/1')])));
        self::assertSame(0, $this->howMany('tries > 0'), 'to want it again changes nothing');
    }

    public function testWhatADeadWorkerHadIsTakenAgain(): void
    {
        $this->want('http://a.test/1', 'http://b.test/1', 'http://c.test/1');
        $this->queue->take(gethostname().':'.getmypid());
        $this->queue->take(gethostname().':999999999');
        $this->queue->take('elsewhere:7');
        $this->queue->reclaim();
        self::assertSame(2, $this->howMany('claimed_by IS NOT NULL'), 'that of a process of this machine that is no more');
        self::service(Connection::class)->executeStatement(
            "UPDATE live_address SET claimed_until = '2020-01-01' WHERE claimed_by = 'elsewhere:7'",
        );
        $this->queue->reclaim();
        self::assertSame(1, $this->howMany('claimed_by IS NOT NULL'), 'that of a machine that is silent');
        self::assertSame(3, $this->howMany('wanted_at IS NOT NULL'));
    }

    public function testAServerThatAsksForPatienceHasIt(): void
    {
        $this->want('http://a.test/1', 'http://a.test/2', 'http://b.test/1');
        $one = $this->queue->take('here:1');
        self::assertNotNull($one);
        $this->queue->later($one, 600);
        self::assertSame('http://b.test/1', (string) $this->queue->take('here:1')?->url);
        self::assertNull($this->queue->take('here:1'), 'its other pages wait, too');
        self::assertGreaterThan(500_000, $this->queue->waits());
    }

    public function testAMachineThatKnowsNoNamesDeclaresNothingDead(): void
    {
        $blind = new WebAccess(resolver: 'dns://127.0.0.1:1');
        self::assertTrue(
            (new Surroundings($blind, $this->checks))->believed(), 'where nothing was ever seen alive, there is nothing to compare with',
        );
        $id = $this->want('http://a.test/1')[0];
        $this->enter($id, 'http://a.test/1', LiveReason::Ok);
        TestClock::forward('1 hour');
        self::assertFalse((new Surroundings($blind, $this->checks))->believed());
        self::assertTrue((new Surroundings(new WebAccess(resolver: 'dns://127.0.0.1:1', routes: 'a.test:80:127.0.0.1:1'), $this->checks))
            ->believed());
    }

    /** The operator's network is not looked at, whoever asks. */
    public function testTheGuardStandsBeforeLooksToo(): void
    {
        foreach (['http://127.0.0.1:8021/', 'http://169.254.169.254/latest', 'http://[::1]/', 'http://2130706433/'] as $url) {
            $this->want($url);
        }
        $this->work(new WebAccess(resolver: 'dns://127.0.0.1:1'));
        foreach (self::service(Connection::class)->fetchFirstColumn('SELECT evidence FROM live_check') as $evidence) {
            self::assertIsString($evidence);
            self::assertStringContainsString('closed network', $evidence);
        }
        self::assertSame(4, $this->howMany('checks = 1'));
    }

    public function testTheScreen(): void
    {
        self::assertStringContainsString('Nobody has checked', $this->get('/live?q=lantern.test/x'));
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->body(), $m));
        $this->client->request('POST', '/live', ['q' => 'lantern.test/x', '_token' => $m[1]]);
        self::assertSame(303, $this->answered());
        self::assertStringContainsString('It is being checked', $this->get('/live?q=lantern.test/x'));
        $this->get('/live/progress?q=lantern.test/x');
        self::assertSame(200, $this->answered());
        $this->enter($this->want('http://lantern.test/x')[0], 'http://lantern.test/x', LiveReason::Soft404, '<script>alert(1)</script>');
        self::assertStringContainsString('&lt;script&gt;alert(1)&lt;/script&gt;', $this->get('/live/progress?q=lantern.test/x'));
        self::assertSame(286, $this->answered(), 'nothing more to wait for');
        $this->client->request('POST', '/live', ['q' => 'lantern.test/x']);
        self::assertSame(403, $this->answered());
        $this->get('/live?q=ftp://x');
        self::assertSame(422, $this->answered());
    }

    public function testNoMoreThanTwoAtOnceOnAHost(): void
    {
        $slots = new HostSlots($this->folder->path.'/slots');
        $in = static fn (string $host): bool => true === $slots->within($host, static fn (): bool => true, 0.1);
        $found = $slots->within('a.test', static function () use ($slots, $in): array {
            $second = $in('a.test');

            return [$second, $slots->within('a.test', static fn (): array => [$in('a.test'), $in('b.test')], 0.1)];
        }, 0.1);
        self::assertSame([true, [false, true]], $found);
        self::assertTrue($in('a.test'), 'and it is free afterwards');
    }

    private function enter(int $id, string $url, LiveReason $reason, string $said = 'So it was.'): void
    {
        $this->checks->enter(
            $id,
            new CheckResult(Url::parse($url), Url::parse($url), [['url' => $url, 'status' => 404]], 404),
            new Assessment($reason, [$said], 0.9),
            null,
        );
    }

    /** @return list<int> */
    private function want(string ...$urls): array
    {
        $ids = array_values($this->queue->ids(Viewer::system(), array_map(Url::parse(...), array_values($urls))));
        $this->queue->want($ids);

        return $ids;
    }

    private function work(WebAccess $web): void
    {
        $worker = new CheckQueuedAddressesHandler(
            self::service(ManagerRegistry::class), $this->queue, $this->checks, self::service(HeldText::class),
            new Surroundings($web, $this->checks), $web, self::service(EventDispatcherInterface::class), new NullLogger(),
            DataFolder::ofSettings(),
        );
        $worker(new CheckQueuedAddresses());
    }

    private function state(string $url): LiveState
    {
        $states = $this->checks->states(Viewer::system(), $url);
        self::assertNotSame([], $states);
        self::assertEquals([$url => $states[0]], $this->checks->latest([$url, 'http://never.test/']));

        return $states[0];
    }

    private function howMany(string $where): int
    {
        $count = self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM live_address WHERE '.$where);

        return is_numeric($count) ? (int) $count : -1;
    }
}
