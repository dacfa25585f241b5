<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\MazeSite;
use Ypomna\Tests\Support\Stack;

/** Whole sites, kept by two workers that share a queue, with everything that leads astray. */
final class SiteTest extends TestCase
{
    private static Stack $stack;
    /** @var array<string, true> files that were found to be sound */
    private static array $checked = [];

    public static function setUpBeforeClass(): void
    {
        self::$stack = new Stack(getenv('YPOMNA_TEST_TMP').'/sites', [
            'STANDIN_SITES' => Stack::root().'/tests/Support/maze.php', 'YPOMNA_WORKERS' => '2', 'WARC_ROLL_BYTES' => '60000',
        ]);
        mkdir(self::$stack->data, 0o755, true);
        touch(self::$stack->data.'/.demo-loaded');
        [$status, $said] = self::$stack->start();
        self::assertSame(0, $status, $said);
    }

    public static function tearDownAfterClass(): void
    {
        self::$stack->stop();
    }

    public function testASiteIsGoneThroughToItsEndAndNoFurther(): void
    {
        $site = $this->site('http://maze.test/', '--pause', '0');
        self::assertSame(['done', 'complete'], [$site['state'], $site['ended']]);
        $pages = $this->pages($site);
        foreach (MazeSite::PAGES as $path) {
            self::assertSame(['kept', null], \array_slice($pages['http://maze.test'.$path] ?? [], 0, 2), $path);
        }
        self::assertSame('kept', $pages['http://maze.test/old'][0], 'A redirect is kept, and where it leads to.');
        self::assertSame(['left', 'robots'], \array_slice($pages['http://maze.test/private/x'], 0, 2));
        self::assertSame(['kept', 'status', 500, 'failed'], $pages['http://maze.test/broken']);
        self::assertSame(['kept', 'status', 503, 'failed'], $pages['http://maze.test/busy']);
        self::assertArrayNotHasKey('http://elsewhere.test/', $pages);
        self::assertSame(
            [],
            array_filter(
                array_keys($pages), static fn (string $url): bool => str_contains($url, 'PHPSESSID') || str_contains($url, 'framed'),
            ),
        );
        foreach (['/calendar/' => 80, '/room/' => 80, '/round/' => 6] as $trap => $most) {
            $kept = \count(array_filter(
                $pages,
                static fn (array $page, string $url): bool => str_contains($url, $trap) && 'kept' === $page[0],
                \ARRAY_FILTER_USE_BOTH,
            ));
            self::assertGreaterThan(0, $kept, $trap);
            self::assertLessThan($most, $kept, $trap);
        }
        self::assertSame('endless-path', $this->reasonOf($pages, '/round/round/round/'));
        self::assertSame('nothing-new', $this->reasonOf($pages, '/calendar/'));
        self::assertSame('nothing-new', $this->reasonOf($pages, '/room/'));
        // What the page lacks, its server had not.
        self::assertSame(
            ['whole', '[{"url": "http://maze.test/gone.png", "kind": "image", "reason": "status"}]'],
            array_values(self::$stack->row(
                "SELECT verdict, JSON_EXTRACT(completeness, '$.gaps') FROM capture WHERE url = 'http://maze.test/'",
            )),
        );
        // A part is asked for once, whoever needs it.
        self::assertSame(1, self::$stack->row("SELECT COUNT(*) AS n FROM record WHERE url = 'http://maze.test/one.png'")['n']);
        self::assertSame(1, self::$stack->row("SELECT COUNT(*) AS n FROM record WHERE url = 'http://maze.test/ground.png'")['n']);
        self::assertSame(1, self::$stack->row("SELECT COUNT(*) AS n FROM capture WHERE url = 'http://maze.test/paper.pdf'")['n']);
        self::assertSame(
            0,
            self::$stack->row(
                "SELECT COUNT(*) AS n FROM capture WHERE url IN ('http://maze.test/framed', 'http://maze.test/robots.txt',"
                    ." 'http://maze.test/maps/index.xml')",
            )['n'],
            'What is no page of its own is none here.',
        );
        $this->filesAreSound();
    }

    public function testAKillCostsNothingAndFilesRollOver(): void
    {
        [, $said] = self::$stack->ypomna('site', 'http://many.test/', '--pause', '0.02', '--without-maps', '--pages', '1000');
        $code = self::code($said);
        for ($kills = 0; $kills < 2;) {
            usleep(50_000);
            $row = self::$stack->row('SELECT pages, state FROM crawl WHERE code = ?', [$code]);
            self::assertSame('running', $row['state'] ?? '', 'It was over before anybody could be killed.');
            if ($row['pages'] >= 40 * ($kills + 1)) {
                $worker = self::$stack->worker();
                self::assertGreaterThan(1, $worker);
                posix_kill($worker, \SIGKILL);
                ++$kills;
            }
        }
        $site = $this->await($code);
        self::assertSame(['done', 'complete', 300], [$site['state'], $site['ended'], $site['pages']], self::$stack->log());
        self::assertSame(
            ['n' => 300, 'a' => 300],
            self::$stack->row(
                'SELECT COUNT(*) AS n, COUNT(DISTINCT c.url) AS a FROM capture c JOIN crawl_segment s ON s.file_id = c.warc_file_id'
                    ." WHERE s.crawl_id = ? AND c.url LIKE 'http://many.test/%'",
                [$site['id']],
            ),
        );
        self::assertGreaterThan(
            4, self::$stack->row('SELECT COUNT(*) AS n FROM crawl_segment WHERE crawl_id = ? AND state = ?', [$site['id'], 'stored'])['n'],
        );
        self::assertSame(
            0, self::$stack->row("SELECT COUNT(*) AS n FROM crawl_page WHERE crawl_id = ? AND state <> 'kept'", [$site['id']])['n'],
        );
        self::assertSame([], glob(self::$stack->data.'/store/.incoming/*'));
        $this->filesAreSound();
        // Made anew, the catalogue has them again, and the site finds its pages in it.
        [$status, $said] = self::$stack->ypomna('catalogue:rebuild');
        self::assertSame(0, $status, $said);
        self::assertSame(
            300,
            self::$stack->row(
                'SELECT COUNT(*) AS n FROM crawl_page p JOIN crawl_segment s ON s.id = p.segment_id JOIN capture c ON c.warc_file_id ='
                    .' s.file_id AND c.response_offset = p.at_offset WHERE p.crawl_id = ?',
                [$site['id']],
            )['n'],
        );
    }

    public function testFolderDepthPatternsAndBudgetHold(): void
    {
        $site = $this->site('http://maze.test/news/1', '--pause', '0', '--reach', 'folder', '--exclude', 'news/3$');
        self::assertSame(['http://maze.test/news/1'], $this->kept($site));
        $site = $this->site('http://maze.test/', '--pause', '0', '--depth', '1', '--include', '/news/', '--without-maps');
        self::assertSame(['http://maze.test/', 'http://maze.test/news/1', 'http://maze.test/news/2'], $this->kept($site));
        $site = $this->site('http://many.test/', '--pause', '0', '--pages', '17');
        self::assertSame(['done', 'pages', 17], [$site['state'], $site['ended'], $site['pages']]);
        // The site is where its first page leads to.
        $site = $this->site('http://maze-two.test/', '--pause', '0', '--without-maps');
        self::assertContains('http://www.maze-two.test/home/a', $this->kept($site));
        // Overruled, what robots.txt says is on record all the same, and the sitemap that it names is followed.
        $site = $this->site(
            'http://maze.test/', '--pause', '0', '--include', '/private', '--include', 'only-in-map', '--ignore-robots',
            'The paper was asked for leave',
        );
        self::assertSame(
            ['http://maze.test/', 'http://maze.test/only-in-map', 'http://maze.test/private/x'],
            array_intersect(['http://maze.test/', 'http://maze.test/only-in-map', 'http://maze.test/private/x'], $this->kept($site)),
        );
        self::assertGreaterThan(
            0,
            self::$stack->row(
                'SELECT COUNT(*) AS n FROM record r JOIN crawl_segment s ON s.file_id = r.warc_file_id WHERE s.crawl_id = ? AND r.url ='
                    ." 'http://maze.test/robots.txt'",
                [$site['id']],
            )['n'],
        );
        // A sitemap that a worker found alone is in a file, too.
        self::assertSame(
            0,
            self::$stack->row(
                'SELECT COUNT(*) AS n FROM crawl_page p LEFT JOIN crawl_segment s ON s.id = p.segment_id LEFT JOIN record r ON'
                    ." r.warc_file_id = s.file_id AND r.at_offset = p.at_offset WHERE p.state = 'kept' AND r.at_offset IS NULL",
            )['n'],
        );
        $site = $this->site('http://nobody.test/', '--pause', '0', '--without-maps');
        self::assertSame(['done', 0], [$site['state'], $site['pages']]);
        self::assertSame('failed', $this->pages($site)['http://nobody.test/'][0]);
    }

    public function testSitesInABrowserBecomeOneFile(): void
    {
        $site = $this->site(
            'http://maze.test/news/1', '--pause', '0', '--rendered', '--include', '/news/', '--pages', '3', '--without-maps',
        );
        self::assertSame(
            ['http://maze.test/news/1', 'http://maze.test/news/3', 'http://maze.test/'],
            array_values(array_unique([...$this->kept($site), 'http://maze.test/'])),
        );
        self::assertSame(
            2,
            self::$stack->row(
                'SELECT COUNT(*) AS n FROM capture c JOIN crawl_segment s ON s.file_id = c.warc_file_id WHERE s.crawl_id = ? AND'
                    .' c.dom_offset IS NOT NULL',
                [$site['id']],
            )['n'],
        );
        $this->filesAreSound();
    }

    /** @return array<string, mixed> its row when it has ended */
    private function site(string ...$words): array
    {
        [$status, $said] = self::$stack->ypomna('site', ...$words);
        self::assertSame(0, $status, $said);

        return $this->await(self::code($said));
    }

    /** @return array<string, mixed> */
    private function await(string $code): array
    {
        $until = microtime(true) + 120;
        do {
            usleep(100_000);
            $row = self::$stack->row('SELECT * FROM crawl WHERE code = ?', [$code]);
        } while ('running' === ($row['state'] ?? '') && microtime(true) < $until);

        return $row;
    }

    private static function code(string $said): string
    {
        self::assertSame(1, preg_match('/\(([2-9a-hjkmnp-z]{12})\)/', $said, $m), $said);

        return $m[1];
    }

    /**
     * @param array<string, mixed> $site
     *
     * @return array<string, array{string, string|null, int|null, string|null}> state, reason, status, verdict by address
     */
    private function pages(array $site): array
    {
        $pages = [];
        $after = 0;
        while ([] !== ($row = self::$stack->row(
            'SELECT id, url, state, reason, status, verdict FROM crawl_page WHERE crawl_id = ? AND role = ? AND id > ? ORDER BY id LIMIT 1',
            [$site['id'], 'page', $after],
        ))) {
            $after = $row['id'];
            /** @var array{string, string|null, int|null, string|null} $values */
            $values = [$row['state'], $row['reason'], $row['status'], $row['verdict']];
            $pages[\is_string($row['url']) ? $row['url'] : ''] = $values;
        }

        return $pages;
    }

    /**
     * @param array<string, mixed> $site
     *
     * @return list<string> addresses
     */
    private function kept(array $site): array
    {
        return array_keys(array_filter($this->pages($site), static fn (array $page): bool => 'kept' === $page[0]));
    }

    /** @param array<string, array{string, string|null, int|null, string|null}> $pages */
    private function reasonOf(array $pages, string $part): ?string
    {
        foreach ($pages as $url => $page) {
            if (str_contains($url, $part) && 'left' === $page[0]) {
                return $page[1];
            }
        }

        return null;
    }

    private function filesAreSound(): void
    {
        foreach (array_keys(self::$stack->holdings()) as $file) {
            if (!isset(self::$checked[$file])) {
                [$status, $said] = self::$stack->ypomna('warc:check', $file);
                self::assertSame(0, $status, $said);
                self::$checked[$file] = true;
            }
        }
        [$status, $said] = self::$stack->ypomna('verify');
        self::assertSame(0, $status, $said);
    }
}
