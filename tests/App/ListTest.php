<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Entity\CaptureList;
use Ypomna\App\Capture\Lists\PageLists;
use Ypomna\App\Capture\Message\WorkOnList;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;

/** Many pages at once: what begins when. */
final class ListTest extends AppTestCase
{
    private PageLists $lists;

    protected function setUp(): void
    {
        parent::setUp();
        $this->lists = self::service(PageLists::class);
    }

    public function testOnePageOfAHostAtATimeAndAPauseBetween(): void
    {
        $list = $this->begin([
            'http://lantern.test/1', 'http://lantern.test/2', 'http://cdn.lantern.test/1', 'javascript:alert(1)', 'http://lantern.test/3',
        ]);
        self::assertSame(
            ['all' => 4, 'waiting' => 4, 'open' => 0, 'whole' => 0, 'gaps' => 0, 'failed' => 0],
            $this->lists->counts(Viewer::system(), $list),
        );
        $this->work($list);
        self::assertSame(['http://lantern.test/1', 'http://cdn.lantern.test/1'], $this->open($list));
        $this->work($list);
        self::assertCount(2, $this->open($list), 'each host has one already');
        $this->end('http://lantern.test/1', 0);
        $this->work($list);
        self::assertSame(['http://cdn.lantern.test/1'], $this->open($list), 'the host rests');
        $this->end('http://lantern.test/1', 5);
        $this->work($list);
        self::assertSame(['http://lantern.test/2', 'http://cdn.lantern.test/1'], $this->open($list));
        foreach (['http://lantern.test/2', 'http://cdn.lantern.test/1'] as $url) {
            $this->end($url, 5);
        }
        $this->work($list);
        $this->end('http://lantern.test/3', 5);
        $this->work($list);
        self::assertSame(ListState::Done, $this->lists->byCode(Viewer::system(), $list->code)?->state);
    }

    public function testAServerThatAsksForItIsLeftAlone(): void
    {
        $list = $this->begin(['http://lantern.test/1', 'http://lantern.test/2']);
        $this->work($list);
        $job = self::service(EntityManagerInterface::class)->getRepository(CaptureJob::class)
            ->findOneBy(['url' => 'http://lantern.test/1']);
        self::assertNotNull($job);
        $this->lists->later($job, 3_600);
        $this->work($list);
        self::assertSame([], $this->open($list), 'neither this page nor another of that host');
        self::assertNotNull($this->lists->pages(Viewer::system(), $list)[0]['notBefore']);
        self::service(Connection::class)->executeStatement("UPDATE capture_job SET not_before = '2020-01-01'");
        $this->work($list);
        self::assertCount(1, $this->open($list));
    }

    public function testPauseGoOnAndCallOff(): void
    {
        $list = $this->begin(['http://lantern.test/1', 'http://lantern.test/2']);
        $this->work($list);
        $path = '/lists/'.$list->code;
        $token = $this->token($path);
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'pause']);
        $this->end('http://lantern.test/1', 5);
        $this->work($list);
        self::assertSame([], $this->open($list));
        self::assertStringContainsString('Resume', $this->get($path));
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'go-on']);
        $this->work($list);
        self::assertSame(['http://lantern.test/2'], $this->open($list));
        $list = $this->begin(['http://lantern.test/3', 'http://lantern.test/4']);
        $this->client->request('POST', '/lists/'.$list->code, ['_token' => $token, 'act' => 'cancel']);
        self::assertSame(303, $this->answered());
        $this->work($list);
        $counts = $this->lists->counts(Viewer::system(), $list);
        self::assertSame([0, 2], [$counts['waiting'], $counts['failed']]);
        self::assertStringContainsString('cancelled before its turn', $this->get('/lists/'.$list->code));
        $this->client->request('POST', $path, ['act' => 'pause']);
        self::assertSame(403, $this->answered());
    }

    public function testOverrulingRobotsTakesAReason(): void
    {
        $token = $this->token('/lists');
        $this->client->request(
            'POST', '/lists', ['_token' => $token, 'a' => ['http://lantern.test/1'], 'overrule' => '1', 'reason' => ' '],
        );
        self::assertSame(422, $this->answered());
        $this->client->request(
            'POST', '/lists', ['_token' => $token, 'a' => ['http://lantern.test/1'], 'overrule' => '1', 'reason' => 'Court order <7>'],
        );
        self::assertSame(303, $this->answered());
        self::assertStringContainsString('Court order &lt;7&gt;', $this->get($this->header('Location')));
        $this->client->request('POST', '/lists', ['_token' => $token, 'a' => ['ftp://lantern.test/1', 'x']]);
        self::assertSame(422, $this->answered());
    }

    public function testWhatIsLookedThroughSaysWhatIsHeldAndWhatCannotBeRead(): void
    {
        $this->takeIn((new \Ypomna\Tests\Support\WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>x <a href="/b#c">b</a> <a href="mailto:x">no</a>',
        ));
        $this->client->request(
            'POST',
            '/lists/look',
            ['_token' => $this->token('/lists'), 'addresses' => "https://www.lantern.test/a\n<script>alert(1)</script>\nlantern.test/new"],
        );
        self::assertStringContainsString('2 addresses', $this->body());
        self::assertStringContainsString('1 capture, on', $this->body());
        self::assertStringContainsString('&lt;script&gt;alert(1)&lt;/script&gt;', $this->body());
        self::assertStringContainsString(
            'http://lantern.test/b</textarea>', $this->get('/lists?of='.$this->captureOf('http://lantern.test/a')->code),
        );
    }

    /**
     * @param list<string> $addresses
     */
    private function begin(array $addresses): CaptureList
    {
        return $this->lists->begin(new Actor('The archivist'), 'A list', $addresses, CaptureMode::Plain, null);
    }

    private function work(CaptureList $list): void
    {
        $this->lists->work(new WorkOnList((int) $list->id));
    }

    private function token(string $path): string
    {
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->get($path), $m));

        return $m[1];
    }

    /**
     * @return list<mixed>
     */
    private function open(CaptureList $list): array
    {
        return self::service(Connection::class)->fetchFirstColumn(
            "SELECT url FROM capture_job WHERE list_id = ? AND stage NOT IN ('listed', 'done', 'failed') ORDER BY id", [$list->id],
        );
    }

    private function end(string $url, int $secondsAgo): void
    {
        self::service(Connection::class)->executeStatement(
            "UPDATE capture_job SET stage = 'done', finished_at = UTC_TIMESTAMP(6) - INTERVAL ? SECOND WHERE url = ?", [$secondsAgo, $url],
        );
    }
}
