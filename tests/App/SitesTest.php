<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Sites\Crawls;
use Ypomna\App\Capture\Sites\FetchedParts;
use Ypomna\App\Capture\Sites\Frontier;
use Ypomna\App\Capture\Sites\Value\FoundAddress;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\Pause;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Capture\Sites\Value\SiteReport;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\RequestedPart;

/** Whole sites: who works at which page, what is left out, and what the screens say of it. */
final class SitesTest extends AppTestCase
{
    private Crawls $crawls;
    private Frontier $frontier;

    protected function setUp(): void
    {
        parent::setUp();
        $this->crawls = self::service(Crawls::class);
        $this->frontier = self::service(Frontier::class);
    }

    public function testNoPageIsTakenTwiceAndTheNearestComeFirst(): void
    {
        $crawl = $this->site(['pause' => '0', 'pages' => '4']);
        $this->found($crawl, ['/c' => 2, '/a' => 1, '/b' => 1, '/d' => 3, '/e' => 3]);
        $first = $this->take($crawl, 1);
        self::assertSame(
            ['http://board.test/', 'http://board.test/a', 'http://board.test/b', 'http://board.test/c'],
            $this->addresses($first),
            'no more than the budget has room for',
        );
        self::assertSame(Pause::Others, $this->frontier->take((int) $crawl->id, 2, 1));
        $this->frontier->reclaim(1);
        self::assertSame($this->addresses($first), $this->addresses($this->take($crawl, 2)), 'What a killed worker had is free again.');
        self::assertSame(Pause::Stopped, $this->frontier->take((int) $crawl->id, 2, 2));
    }

    public function testHostsAreLeftAloneBetweenTwoPages(): void
    {
        $crawl = $this->site(['seeds' => "board.test/\nwww.lantern.test/", 'pause' => '5']);
        $this->found($crawl, ['/a' => 1]);
        self::assertSame(['http://board.test/', 'http://www.lantern.test/'], $this->addresses($this->take($crawl, 1)));
        $this->settle($crawl);
        self::assertSame(Pause::Pause, $this->frontier->take((int) $crawl->id, 1, 1));
        self::service(Connection::class)->executeStatement('DELETE FROM crawl_host');
        self::assertSame(['http://board.test/a'], $this->addresses($this->take($crawl, 1)));
        $this->settle($crawl);
        self::assertSame(Pause::Complete, $this->frontier->take((int) $crawl->id, 1, 1));
    }

    public function testPageAfterPageThatBringsNothingClosesItsKindAndCanBeOpenedAgain(): void
    {
        $crawl = $this->site(['pause' => '0']);
        $kind = (string) (new FoundAddress(Url::parse('http://board.test/tides/2024-11'), 'page', 1, 'link'))->kind();
        $this->found($crawl, ['/tides/2031-01' => 9, '/tides/2031-02' => 9, '/other' => 9]);
        $pages = [];
        for ($n = 0; $n < 30; ++$n) {
            $came = new PageResult(new TakenPage($n, Url::parse('http://board.test/tides/2024-'.$n), '', 'page', 1, 1, $kind));
            $came->pieces = ['Tides', 'March '.(2000 + $n)];
            [$came->offset, $came->status] = [1, 200];
            $pages[] = $came;
        }
        $this->frontier->learn((int) $crawl->id, $pages);
        self::assertSame([], $this->crawls->traps($crawl), 'Without an answer nothing is learned.');
        foreach ($pages as $came) {
            $came->exchanges[] = $exchange = new \Ypomna\Core\Fetch\Exchange(
                0, (string) $came->page->url, 'GET', new \DateTimeImmutable(), '', '',
            );
            $exchange->status = 200;
        }
        $this->frontier->learn((int) $crawl->id, $pages);
        self::assertSame(
            [['kind' => bin2hex($kind), 'name' => 'board.test/tides/0-0', 'pages' => 30, 'left' => 2, 'open' => false]],
            $this->crawls->traps($crawl),
        );
        self::assertSame(
            [['state' => 'left', 'reason' => 'nothing-new', 'pages' => 2, 'example' => 'http://board.test/tides/2031-01']],
            $this->crawls->reasons($crawl),
        );
        $this->found($crawl, ['/tides/2031-03' => 9]);
        self::assertSame(3, $this->crawls->counts(Viewer::system(), $crawl)['left']);
        $this->post('/sites/'.$crawl->code, ['act' => 'follow', 'kind' => bin2hex($kind)]);
        self::assertSame(303, $this->answered());
        self::assertSame(0, $this->crawls->counts(Viewer::system(), $crawl)['left']);
        $this->frontier->learn((int) $crawl->id, $pages);
        self::assertTrue($this->crawls->traps($crawl)[0]['open'], 'What a person opened stays open.');
        self::assertStringContainsString('followed all the same', $this->get('/sites/'.$crawl->code));
    }

    public function testPartsAreFetchedOnceAndWhatAStyleLacksEveryPageLacks(): void
    {
        $crawl = $this->site([]);
        $book = new FetchedParts(self::service(Connection::class), (int) $crawl->id);
        $style = new RequestedPart(['http://board.test/s.css'], GapKind::Style, false);
        $picture = new RequestedPart(['http://board.test/a.png', 'http://board.test/b.png'], GapKind::Image, false);
        self::assertSame(
            ['http://board.test/s.css', 'http://board.test/a.png'],
            $book->unknown(['http://board.test/s.css', 'http://board.test/a.png', 'http://board.test/s.css']),
        );
        $book->came(
            'http://board.test/s.css',
            null,
            [
                new RequestedPart(['http://board.test/ground.png'], GapKind::Image, false),
                new RequestedPart(['http://board.test/perhaps.png'], GapKind::Image, true),
            ],
        );
        $book->came('http://board.test/ground.png', GapReason::Timeout);
        $book->came('http://board.test/a.png', GapReason::Status);
        $book->came('http://board.test/b.png', null);
        $expected = [['http://board.test/ground.png', GapReason::Timeout]];
        $told = static fn (array $gaps): array => array_map(
            static fn (Gap $gap): array => [$gap->url, $gap->reason],
            array_filter($gaps, static fn (mixed $gap): bool => $gap instanceof Gap),
        );
        self::assertSame($expected, $told($book->gaps([$style, $picture])), 'One candidate of a picture is enough.');
        $book->write();
        $book->commit();
        self::assertSame($expected, $told($book->gaps([$style, $picture])));
        $other = new FetchedParts(self::service(Connection::class), (int) $crawl->id);
        self::assertSame(
            ['http://board.test/new.png'],
            $other->unknown(['http://board.test/s.css', 'http://board.test/a.png', 'http://board.test/b.png', 'http://board.test/new.png']),
        );
        self::assertSame($expected, $told($other->gaps([$style, $picture])), 'Another worker knows it, too.');
        self::assertSame(
            [['http://board.test/new.png', GapReason::NotRequested]],
            $told($other->gaps([new RequestedPart(['http://board.test/new.png'], GapKind::Image, false)])),
        );
    }

    public function testTheFormSaysWhatIsWrongAndKeepsWhatWasTyped(): void
    {
        self::assertStringContainsString('Capture a whole site', $this->get('/sites?of=http://board.test/'));
        self::assertStringContainsString('http://board.test/</textarea>', $this->body());
        $this->post('/sites', ['seeds' => '', 'excludes' => '/drafts/']);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('Say with which page of the site to begin.', $this->body());
        self::assertStringContainsString('/drafts/</textarea>', $this->body());
        $this->post('/sites', ['seeds' => 'board.test', 'includes' => str_repeat('x', 1_200)]);
        self::assertStringContainsString('The pattern in line 1', $this->body());
        $this->post('/sites', ['seeds' => 'javascript:alert(1)']);
        self::assertSame(422, $this->answered());
        $this->post('/sites', ['seeds' => 'board.test', 'overrule' => '1', 'reason' => '']);
        self::assertStringContainsString('Say why robots.txt is overruled', $this->body());
        $this->client->request('POST', '/sites', ['seeds' => 'board.test']);
        self::assertSame(403, $this->answered());
        self::assertSame([], self::made(Crawl::class));
        $this->post(
            '/sites',
            [
                'seeds' => 'board.test/reports/', 'reach' => 'folder', 'depth' => '3', 'excludes' => '*.zip$', 'overrule' => '1',
                'reason' => 'Evidence goes', 'pages' => '77', 'pause' => '2,5',
            ],
        );
        self::assertSame(303, $this->answered());
        $crawl = self::made(Crawl::class)[0];
        self::assertSame(
            [['reach' => 'folder', 'depth' => 3, 'includes' => [], 'excludes' => ['*.zip$']], 77, 2_500, 'Evidence goes', false, false],
            [$crawl->scope, $crawl->mostPages, $crawl->pause, $crawl->overruled, $crawl->obey, $crawl->maps],
        );
    }

    public function testPauseGoOnCancelAndMore(): void
    {
        $crawl = $this->site(['pages' => '10']);
        foreach ([
            'pause' => ListState::Paused, 'go-on' => ListState::Running, 'cancel' => ListState::Cancelled, 'more' => ListState::Cancelled,
        ] as $act => $state) {
            $this->post('/sites/'.$crawl->code, ['act' => $act]);
            self::assertSame($state, $this->again($crawl)->state, $act);
        }
        self::assertSame(2, $this->again($crawl)->run);
        $crawl = $this->site(['pages' => '10']);
        self::service(Connection::class)->executeStatement("UPDATE crawl SET state = 'done', ended = 'pages' WHERE id = ?", [$crawl->id]);
        self::assertStringContainsString('Go on with as much again', $this->get('/sites/'.$crawl->code));
        $this->post('/sites/'.$crawl->code, ['act' => 'more']);
        self::assertSame([ListState::Running, 20], [$this->again($crawl)->state, $this->again($crawl)->mostPages]);
        $this->post('/sites/'.$crawl->code, ['act' => 'explode']);
        self::assertSame(404, $this->answered());
    }

    public function testTheReportIsATableThatRunsNothing(): void
    {
        $crawl = $this->site(['name' => '<b>"x"']);
        $this->found($crawl, ['/a?=cmd|"x"' => 1]);
        self::service(Connection::class)->executeStatement("UPDATE crawl_page SET url = '=HYPERLINK(1)' WHERE depth = 1");
        $report = new SiteReport($this->crawls, $crawl);
        $csv = implode('', iterator_to_array($report->csv(Viewer::system()), false));
        self::assertStringContainsString('"\'=HYPERLINK(1)","waiting"', $csv);
        $json = json_decode(implode('', iterator_to_array($report->json(Viewer::system()), false)), true, 32, \JSON_THROW_ON_ERROR);
        self::assertIsArray($json);
        self::assertSame(['<b>"x"', 2], [$json['name'], \count(\is_array($json['pages']) ? $json['pages'] : [])]);
        self::assertStringNotContainsString('<b>"x"', $this->get('/sites/'.$crawl->code));
        self::assertSame(404, $this->statusOf('/sites/'.$crawl->code.'/report.exe'));
    }

    /** @param array<string, string> $fields */
    private function site(array $fields): Crawl
    {
        return $this->crawls->begin(
            new Actor('The archivist'), SiteOptions::ofForm($fields + ['seeds' => 'http://board.test/', 'maps' => '0']),
        );
    }

    private function again(Crawl $crawl): Crawl
    {
        self::service(\Doctrine\ORM\EntityManagerInterface::class)->clear();

        return $this->crawls->byCode(Viewer::system(), $crawl->code) ?? self::fail('It is gone.');
    }

    /** @param array<string, int> $paths with their depth */
    private function found(Crawl $crawl, array $paths): void
    {
        $found = [];
        foreach ($paths as $path => $depth) {
            $found[] = new FoundAddress(Url::parse('http://board.test'.$path), 'page', $depth, 'link');
        }
        $this->frontier->add((int) $crawl->id, $found, $crawl->scope(), $this->frontier->closed((int) $crawl->id));
    }

    /** @return list<TakenPage> */
    private function take(Crawl $crawl, int $slot): array
    {
        $taken = $this->frontier->take((int) $crawl->id, $slot, 1);
        self::assertIsArray($taken);

        return $taken;
    }

    private function settle(Crawl $crawl): void
    {
        self::service(Connection::class)->executeStatement(
            "UPDATE crawl_page SET state = 'kept' WHERE state = 'taken' AND crawl_id = ?", [$crawl->id],
        );
    }

    /**
     * @param list<TakenPage> $pages
     *
     * @return list<string>
     */
    private function addresses(array $pages): array
    {
        return array_map(static fn (TakenPage $page): string => (string) $page->url, $pages);
    }

    private function statusOf(string $path): int
    {
        $this->get($path);

        return $this->answered();
    }

    /** @param array<string, string> $fields */
    private function post(string $path, array $fields): void
    {
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->get('/sites'), $m));
        $this->client->request('POST', $path, $fields + ['_token' => $m[1]]);
    }
}
