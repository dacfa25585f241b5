<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Catalogue\AddressHistory;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Value\HistoryView;
use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\App\Catalogue\Value\Span;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

final class FindTest extends AppTestCase
{
    public function testAnySpellingOfAnAddressLeadsToIt(): void
    {
        $this->takeIn((new WarcBuilder())->exchange('http://www.lantern.test/a?x=1&y=2', '2024-11-03T10:00:00Z', '<title>A</title>'));
        foreach ([
            'lantern.test/a?y=2&x=1', ' HTTPS://LANTERN.test:443/./a?x=1&y=2#z ', '<http://www.lantern.test/%61?x=1&y=2>',
        ] as $spelling) {
            $this->get('/find?q='.rawurlencode($spelling));
            self::assertMatchesRegularExpression('#^/address/[2-9a-hjkmnp-z]{12}$#', $this->header('Location'), $spelling);
        }
        $body = $this->get($this->header('Location'));
        self::assertStringContainsString('Last seen alive on', $body);
        self::assertStringContainsString('1 capture,', $body);
    }

    public function testAnAddressNeverKeptIsA404ThatOffersItsNeighbours(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            'http://lantern.test/2024/11/held', '2024-11-03T10:00:00Z', 'x',
        )->exchange('http://cdn.lantern.test/', '2024-11-03T10:00:00Z', 'x'));
        $near = self::service(AddressRepository::class);
        $urls = static fn (string $url): array => array_column($near->near(Viewer::system(), \Ypomna\Core\Address\Url::parse($url)), 'url');
        self::assertSame(['http://lantern.test/2024/11/held'], $urls('http://lantern.test/2024/11/other'));
        self::assertSame(['http://lantern.test/2024/11/held'], $urls('http://lantern.test/elsewhere'));
        self::assertSame(['http://lantern.test/2024/11/held'], $urls('http://other.test/x/held'));
        self::assertSame([], $urls('http://lantern.testing/zz'));
        $this->get('/find?q=lantern.test/2024/11/other');
        self::assertSame(404, $this->answered());
        self::assertStringContainsString('lantern.test/2024/11/held', $this->body());
    }

    public function testASearchThatFoundNothingShowsWhatOftenLeadsToTheSamePage(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            'http://lantern.test/held/?id=7', '2024-11-03T10:00:00Z', 'x',
        )->exchange('http://lantern.test/index.html', '2024-11-03T10:00:01Z', 'x'));
        $body = $this->get('/find?q='.rawurlencode('http://m.lantern.test/held?id=7).'));
        self::assertSame(404, $this->answered());
        self::assertStringNotContainsString('often lead to the same page', $body, 'Three steps away is another page.');
        foreach ([
            'http://lantern.test/held?id=7' => 'lantern.test/held/?id=7',
            'lantern.test/' => 'lantern.test/index.html',
            'lantern.test/held/?id=7&from=mail' => 'lantern.test/held/?id=7',
        ] as $asked => $held) {
            $body = $this->get('/find?q='.rawurlencode($asked));
            self::assertStringContainsString('often lead to the same page', $body, $asked);
            self::assertSame(1, substr_count($body, '<span class="address"><bdi>'.htmlspecialchars($held)), $asked);
        }
    }

    public function testWordsPartsOfAddressesAndCitationsFindWhatIsHeld(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            'http://www.saltmarch-ferries.test/safety/stern-door', '2024-11-03T10:00:00Z', '<title>Notice: the seal</title>',
        )->exchange('http://www.saltmarch-ferries.test/fares', '2024-11-03T10:00:01Z', '<title>Fares</title>')
            ->exchange('http://static.saltmarch-ferries.test/door', '2023-01-01T10:00:02Z', '<title>Other door</title>'));
        foreach ([
            'saltmarch stern door 2024',
            'STERN-door',
            'notice seal ferries',
            'Look it up: http://saltmarch-ferries.test/safety/stern-door.',
        ] as $typed) {
            $body = $this->get('/find?q='.rawurlencode($typed));
            self::assertStringContainsString(
                302 === $this->answered() ? '/address/' : 'saltmarch-ferries.test/safety/stern-door', $body, $typed,
            );
            self::assertStringNotContainsString('/fares', $body, $typed);
        }
        $body = $this->get('/find?q='.rawurlencode('door 2023'));
        self::assertStringContainsString('static.saltmarch-ferries.test/door', $body);
        self::assertStringNotContainsString('stern-door', $body);
        $body = $this->get('/find?q='.rawurlencode('saltmarch-ferries.test/*'));
        self::assertSame(2, substr_count($body, '<span class="address">'));
        $body = $this->get('/find?q='.rawurlencode('*.saltmarch-ferries.test'));
        self::assertSame(3, substr_count($body, '<span class="address">'));
        $this->get('/find?q='.rawurlencode('"><script> +stern -door @ %'));
        self::assertNotSame(500, $this->answered());
        self::assertStringNotContainsString('"><script>', $this->body());
        $this->get('/find?q=nothing+of+the+kind');
        self::assertSame(404, $this->answered());
    }

    public function testWhatWasTriedInVainSaysWhenAndWhy(): void
    {
        $job = self::service(CaptureRequests::class)->ask(new Actor('The archivist'), 'http://lantern.test/tried');
        self::service(Connection::class)->update(
            'capture_job', ['stage' => 'failed', 'reason' => 'timeout', 'finished_at' => '2024-11-03 10:00:00'], ['id' => $job->id],
        );
        $body = $this->get('/find?q=www.lantern.test/tried');
        self::assertStringContainsString('The last attempt, on', $body);
        self::assertStringContainsString('took too long to answer', $body);
        self::assertStringContainsString('or tried to', $this->get('/find?q=lantern.test/never'));
    }

    public function testAHistoryOfThousandsIsLookedAtInParts(): void
    {
        $warc = new WarcBuilder();
        $at = new \DateTimeImmutable('2023-01-01T00:00:00Z');
        for ($n = 0; $n < 400; ++$n) {
            $at = $at->modify('+41 hours');
            $warc->exchange(
                'http://lantern.test/busy',
                $at->format('Y-m-d\TH:i:s\Z'),
                '<p>'.intdiv($n, 50),
                status: 0 === $n % 50 ? 404 : 200,
                destination: 'document',
            );
        }
        $this->takeIn($warc);
        $address = $this->captureOf('http://lantern.test/busy')->address;
        $history = self::service(AddressHistory::class);
        $layers = $history->layers(Viewer::system(), $address);
        self::assertLessThanOrEqual(121, \count($layers));
        self::assertSame(
            [400, 8],
            [
                array_sum(array_map(static fn (Layer $layer): int => $layer->count, $layers)),
                array_sum(array_map(static fn (Layer $layer): int => $layer->gone, $layers)),
            ],
        );
        $years = $history->spans(Viewer::system(), $address, new HistoryView());
        self::assertSame(['2023', '2024'], array_map(static fn (Span $span): string => $span->label, $years));
        self::assertSame(400, array_sum(array_map(static fn (Span $span): int => $span->captures, $years)));
        $view = HistoryView::read('2023-03-01', '2023-04-01', '', '');
        self::assertCount(
            array_sum(array_map(static fn (Span $span): int => $span->captures, $history->spans(Viewer::system(), $address, $view))),
            $history->layers(Viewer::system(), $address, $view),
        );
        self::assertCount(8, $history->lines(Viewer::system(), $address, null, HistoryView::read('', '', 'gone', '')));
        self::assertSame([], $history->lines(Viewer::system(), $address, null, HistoryView::read('2030', 'no moment', 'nonsense', '')));
        $body = $this->get('/address/'.$address->code.'?from=2023-03-01T00:00:00Z&to=2023-04-01T00:00:00Z&state=alive');
        self::assertStringContainsString('Whole history', $body);
        self::assertStringNotContainsString('2023-04-0', (string) preg_replace('/.*<ol class="captures"/s', '', $body));
    }

    public function testWhatABusyHistoryIsDrawnFromIsPutTogetherAnewWhenItChanged(): void
    {
        $this->takeIn((new WarcBuilder('one'))->exchange('http://lantern.test/busy', '2020-01-01T00:00:00Z', '<p>x'));
        $address = $this->captureOf('http://lantern.test/busy')->address;
        $database = self::service(Connection::class);
        $insert = fn (int $from, int $to): int|string => $database->executeStatement(
            'INSERT INTO capture (address_id, captured_at, code, url, warc_file_id, response_offset, status, parts, bytes, agent, how,'
                ." changed) SELECT address_id, captured_at + INTERVAL seq HOUR, CONCAT('busy', seq), url, warc_file_id, seq + 100000,"
                    ." 200, 1, 1, '', '', 0 FROM capture, seq_{$from}_to_{$to} WHERE code = ?",
            [$this->captureOf('http://lantern.test/busy', '2020-01-01')->code],
        );
        $insert(1, 2_499);
        $address->captures = 2_500;
        $address->lastAt = $address->firstAt->modify('+2499 hours');
        $history = self::service(AddressHistory::class);
        $count = static fn (): array => [
            array_sum(array_map(static fn (Layer $layer): int => $layer->count, $history->layers(Viewer::system(), $address))),
            array_sum(array_map(
                static fn (Span $span): int => $span->captures, $history->spans(Viewer::system(), $address, new HistoryView()),
            )),
        ];
        self::assertSame([2_500, 2_500], $count());
        self::assertSame([2_500, 2_500], $count(), 'as it was put together');
        $summaries = static fn (): mixed => $database->fetchOne('SELECT COUNT(*) FROM history_summary');
        self::assertEquals(2, $summaries());
        $insert(2_500, 2_599);
        $address->captures = 2_600;
        $address->lastAt = $address->firstAt->modify('+2599 hours');
        self::assertSame([2_600, 2_600], $count(), 'more captures');
        $database->executeStatement('UPDATE capture SET changed = 0.5');
        $this->takeIn((new WarcBuilder('two'))->exchange('http://lantern.test/other', '2020-01-01T00:00:00Z', '<p>x'), 'two.warc.gz');
        self::assertSame(
            2_600,
            array_sum(array_map(
                static fn (Span $span): int => $span->changes, $history->spans(Viewer::system(), $address, new HistoryView()),
            )),
            'measured since',
        );
    }

    public function testAddressesOfOnePublicationShareOneHistoryUntilTheyAreParted(): void
    {
        $this->takeIn((new WarcBuilder('old'))->exchange(
            'http://merrowline.test/fares', '2023-05-01T10:00:00Z', '<title>Fares of old</title>', destination: 'document',
        ));
        $this->takeIn((new WarcBuilder('moved'))->exchange(
            'http://merrowline.test/fares', '2024-02-01T10:00:00Z', 'moved', status: 301,
            fields: ['Location: http://saltmarch-ferries.test/fares'], destination: 'document',
        )
            ->exchange(
                'http://saltmarch-ferries.test/fares',
                '2024-02-01T10:00:01Z',
                '<link rel="canonical" href="/prices"><title>Fares</title>',
                destination: 'document',
            ));
        $this->takeIn((new WarcBuilder('copy'))->exchange(
            'http://mirror.example/f',
            '2024-03-01T10:00:00Z',
            '<link rel="canonical" href="/prices"><title>Fares</title>',
            destination: 'document',
        ));
        $this->takeIn((new WarcBuilder('own'))->exchange(
            'http://saltmarch-ferries.test/prices', '2025-01-01T10:00:00Z', '<title>Prices</title>', destination: 'document',
        ));
        $new = $this->captureOf('http://saltmarch-ferries.test/fares')->address;
        $old = $this->captureOf('http://merrowline.test/fares')->address;
        self::assertStringContainsString('This address redirected to', $this->get('/address/'.$old->code));
        $body = $this->get('/address/'.$new->code);
        self::assertStringContainsString('The same bytes were captured at', $body);
        self::assertStringContainsString('The page names as its own address', $body);
        $this->client->submit($this->client->request('GET', '/address/'.$old->code)->selectButton('Join the histories')->form());
        self::assertSame(303, $this->answered());
        foreach ([$old, $new] as $address) {
            $body = $this->get('/address/'.$address->code);
            self::assertStringContainsString('3 captures, from', $body);
            self::assertStringContainsString('Its history is joined', $body);
            self::assertSame(3, substr_count($body, 'class="capture-line"'));
        }
        $finder = self::service(CaptureRepository::class);
        $first = $finder->first(Viewer::system(), $new);
        self::assertSame('http://merrowline.test/fares', $first?->url);
        self::assertSame('2024-02-01', $finder->later(Viewer::system(), $first)?->capturedAt->format('Y-m-d'));
        self::assertSame(
            'http://merrowline.test/fares',
            $finder->nearest(Viewer::system(), 'http://saltmarch-ferries.test/fares', new \DateTimeImmutable('2023-01-01'))?->url,
        );
        // A third one joins, in the words of a person, and all three are one.
        $form = $this->client->request('GET', '/address/'.$new->code)->filter('.join-other form')->form(['other' => 'mirror.example/f']);
        $this->client->submit($form);
        self::assertStringContainsString('4 captures, from', $this->get('/address/'.$old->code));
        $this->client->submit($this->client->request('GET', '/address/'.$new->code)->filter('.joined form')->form());
        self::assertStringNotContainsString('4 captures', $this->get('/address/'.$new->code));
        $this->client->request('POST', '/address/'.$new->code.'/join', ['_token' => 'guessed', 'other' => $old->code]);
        self::assertSame(403, $this->answered());
        $this->client->submit($this->client->request('GET', '/address/'.$new->code)->filter('.join-other form')
            ->form(['other' => 'never.example/kept']));
        self::assertSame(422, $this->answered());
    }

    public function testRulesOfTheInstallationCount(): void
    {
        $file = Settings::dataFolder().'/'.AddressKeys::OWN_RULES;
        file_put_contents($file, "tracking ref\n");
        AddressKeys::forget();
        try {
            $this->takeIn((new WarcBuilder())->exchange('http://lantern.test/a?ref=mail', '2024-11-03T10:00:00Z', 'x'));
            $this->get('/find?q=lantern.test/a?ref=other');
            self::assertSame(302, $this->answered());
        } finally {
            unlink($file);
            AddressKeys::forget();
        }
    }

    public function testWhatIsTypedIsShownEscaped(): void
    {
        $body = $this->get('/find?q='.rawurlencode('<script>alert(1)</script>'));
        self::assertSame(422, $this->answered());
        self::assertStringNotContainsString('<script>alert', $body);
        self::assertStringContainsString('&lt;script&gt;alert(1)', $body);
    }

    public function testAPageThatCallsItselfAScriptStaysText(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', '<title>&lt;img src=x onerror=alert(1)></title>',
        ));
        $body = $this->get('/address/'.$this->captureOf('http://lantern.test/a')->address->code);
        self::assertStringContainsString('&lt;img src=x onerror=alert(1)&gt;', $body);
        self::assertStringNotContainsString('<img src=x', $body);
    }

    public function testALongHistoryIsReadPageByPage(): void
    {
        $warc = new WarcBuilder();
        for ($i = 0; $i < 130; ++$i) {
            $warc->exchange('http://lantern.test/a', \sprintf('2024-11-03T10:%02d:%02dZ', intdiv($i, 60), $i % 60), '<p>'.$i);
        }
        $this->takeIn($warc);
        $path = '/address/'.$this->captureOf('http://lantern.test/a')->address->code;
        $seen = [];
        do {
            $body = $this->get($path);
            preg_match_all('/<li id="c-([2-9a-hjkmnp-z]{12})"/', $body, $m);
            array_push($seen, ...$m[1]);
            $more = 1 === preg_match('#href="([^"]+\?before=[^"]+)"#', $body, $next);
            $path = html_entity_decode($next[1] ?? '');
        } while ($more);
        self::assertCount(130, $seen);
        self::assertCount(130, array_unique($seen));
    }

    public function testTheFirstScreenOfAnEmptyInstallationSaysWhatToDo(): void
    {
        self::assertStringContainsString('Nothing is captured yet.', $this->get('/'));
        self::assertSame(200, $this->answered());
    }

    public function testOnlyOwnHostNamesAreAnswered(): void
    {
        $this->client->request('GET', '/', server: ['HTTP_HOST' => 'rebound.example']);
        self::assertSame(421, $this->answered());
        $this->client->request('GET', '/', server: ['HTTP_HOST' => 'localhost.rebound.example:8020']);
        self::assertSame(421, $this->answered());
    }

    public function testAnAskedForPageBecomesAJobAndAMessageTogether(): void
    {
        $this->client->request('POST', '/captures', ['q' => 'http://lantern.test/', '_token' => 'guessed']);
        self::assertSame(403, $this->answered());
        self::assertSame([0, 0], $this->waiting());
        $crawler = $this->client->request('GET', '/find?q=lantern.test/');
        $this->client->submit($crawler->selectButton('Capture now')->form());
        self::assertMatchesRegularExpression('#^/captures/[2-9a-hjkmnp-z]{12}$#', $this->header('Location'));
        self::assertSame([1, 1], $this->waiting());
        self::assertStringContainsString('Waiting for a worker', $this->get($this->header('Location')));
    }

    /**
     * @return array{int, int} jobs and messages
     */
    private function waiting(): array
    {
        $database = self::service(Connection::class);
        $count = static fn (string $table): int => is_numeric($n = $database->fetchOne('SELECT COUNT(*) FROM '.$table)) ? (int) $n : -1;

        return [$count('capture_job'), $count('queue_message')];
    }
}
