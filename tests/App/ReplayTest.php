<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\App\Catalogue\RecordFinder;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

final class ReplayTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testReferencesLeadToTheArchiveAndNothingElse(): void
    {
        $code = $this->held(
            '<!doctype html><html><head><link rel="stylesheet" href="//cdn.lantern.test/a.css"></head><body><img'
                .' src="http://cdn.lantern.test/x.png?1"><a href="/b">b</a><a'
                    .' href="https://corvane-marine.test:8443/c#d">c</a></body></html>',
        );
        $html = $this->page(self::PAGE, $code);
        self::assertStringContainsString("href=\"http://{$this->label($code)}ah-cdn-lantern-test.localhost:8020/a.css\"", $html);
        self::assertStringContainsString("src=\"http://{$this->label($code)}ah-cdn-lantern-test.localhost:8020/x.png?1\"", $html);
        self::assertStringContainsString('<a href="/b">b</a>', $html);
        self::assertStringContainsString("href=\"http://{$this->label($code)}at-corvane--marine-test-8443.localhost:8020/c#d\"", $html);
    }

    public function testEveryAnswerOfAPageHostCarriesTheWall(): void
    {
        $code = $this->held('<p>x');
        $cases = [
            fn () => $this->page(self::PAGE, $code), fn () => $this->page(self::PAGE, $code, '-s'),
            fn () => $this->page('http://lantern.test/nowhere', $code),
            fn () => $this->page('http://lantern.test/x.png', $code, '', 'image'),
            fn () => $this->page(self::PAGE, 'zzzzzzzzzzzz'), fn () => $this->page(self::PAGE, $code, '', 'iframe', 'DELETE'),
        ];
        foreach ($cases as $n => $ask) {
            $ask();
            $policy = $this->header('Content-Security-Policy');
            self::assertMatchesRegularExpression(
                1 === $n ? '/^sandbox allow-scripts;/' : '/^sandbox allow-scripts allow-forms;/', $policy, "case {$n}",
            );
            self::assertStringContainsString('default-src http://*.localhost:8020 data: blob:', $policy);
            self::assertStringContainsString(1 === $n ? "form-action 'none'" : 'form-action http://*.localhost:8020;', $policy);
            self::assertSame('(response-origin "http://*.localhost:8020/*");redirects=allow', $this->header('Connection-Allowlist'));
            self::assertSame('no-referrer', $this->header('Referrer-Policy'));
            self::assertSame('', $this->header('Set-Cookie'));
        }
        $this->page(self::PAGE, $code, '-s');
        self::assertMatchesRegularExpression("/script-src 'nonce-[0-9a-f]{24}';/", $this->header('Content-Security-Policy'));
        self::assertStringContainsString("connect-src 'none'", $this->header('Content-Security-Policy'));
    }

    public function testArchivedHeadersStayInTheArchive(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>x', fields: [
            'Set-Cookie: a=b', 'Link: <http://elsewhere.test/>; rel=preconnect', 'Refresh: 0;url=http://elsewhere.test/',
            'Content-Security-Policy: default-src *', 'Report-To: {}', 'Content-Language: el', 'Clear-Site-Data: "*"',
        ]));
        $this->page(self::PAGE, $this->captureOf(self::PAGE)->code);
        self::assertSame('el', $this->header('Content-Language'));
        foreach (['Set-Cookie', 'Link', 'Refresh', 'Report-To', 'Clear-Site-Data'] as $name) {
            self::assertSame('', $this->header($name), $name);
        }
        self::assertStringNotContainsString('default-src *', $this->header('Content-Security-Policy'));
    }

    public function testServiceWorkersAreRefused(): void
    {
        $code = $this->held('<p>x');
        $this->client->request(
            'GET', '/a',
            server: ['HTTP_HOST' => "{$this->label($code)}ah-lantern-test.localhost:8020", 'HTTP_SERVICE_WORKER' => 'script'],
        );
        self::assertSame(403, $this->answered());
    }

    public function testALinkToAnotherPageLeadsToItsNearestCapture(): void
    {
        $code = $this->held('<a href="/b">b</a>', '2024-11-03');
        foreach (['2024-01-01', '2024-10-01', '2025-12-01'] as $day) {
            $this->takeIn((new WarcBuilder($day))->exchange('https://www.lantern.test/b', $day.'T00:00:00Z', '<p>'.$day), $day.'.warc.gz');
        }
        $this->page('http://lantern.test/b', $code);
        self::assertSame(302, $this->answered());
        $nearest = $this->captureOf('http://lantern.test/b', '2024-10-01')->code;
        self::assertSame("http://{$this->label($nearest)}at-www-lantern-test.localhost:8020/b", $this->header('Location'));
    }

    public function testAPartFromAnotherMomentSaysOfWhich(): void
    {
        $code = $this->held('<img src="/x.png">', '2024-11-03');
        $this->takeIn((new WarcBuilder('late'))->exchange('http://lantern.test/x.png', '2026-01-05T06:07:08Z', 'PNG', 'image/png'));
        self::assertSame('PNG', $this->page('http://lantern.test/x.png', $code, '', 'image'));
        self::assertSame('from;desc="2026-01-05T06:07:08.000Z"', $this->header('Server-Timing'));
        $this->page(self::PAGE, $code);
        self::assertSame('', $this->header('Server-Timing'));
    }

    public function testWhatWasSaidOnASocketIsToldToItsOwnPageAlone(): void
    {
        $said = "\x1E{\"socket\":\"ws://lantern.test/live\",\"protocol\":null,\"opened\":\"2024-11-03T00:00:00.000Z\"}\n\x1E{\"at\":5,"
            ."\"from\":\"server\",\"text\":\"Ten boats\"}\n";
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T00:00:00Z', '<p>x', destination: 'document')
            ->exchange('http://lantern.test/live', '2024-11-03T00:00:00Z', '<p>A page of the same name.', destination: 'empty')
            ->exchange('ws://lantern.test/live', '2024-11-03T00:00:00Z', '', status: 101)
            ->resource('ws://lantern.test/live', '2024-11-03T00:00:00Z', $said, 'application/json-seq'));
        $code = $this->captureOf(self::PAGE)->code;
        self::assertSame($said, $this->page('ws://lantern.test/live', $code, '', 'empty'));
        self::assertSame('application/json-seq', $this->header('Content-Type'));
        self::assertStringContainsString('A page of the same name.', $this->page('http://lantern.test/live', $code, '', 'empty'));
        $other = $this->held('<p>Another page.', '2025-02-02');
        foreach ([[$code, 'null'], [$other, '']] as [$from, $open]) {
            $this->client->request(
                'GET', '/live',
                server: [
                    'HTTP_HOST' => "{$this->label($from)}aw-lantern-test.localhost:8020", 'HTTP_SEC_FETCH_DEST' => 'empty',
                    'HTTP_ORIGIN' => 'null',
                ],
            );
            self::assertSame($open, $this->header('Access-Control-Allow-Origin'));
        }
        $this->page('wss://lantern.test/live', $code, '', 'empty');
        self::assertSame(404, $this->answered());
    }

    public function testADrawingComesWithAPageThatMayAskForNothing(): void
    {
        $uses = '<use href="/i.svg#a"></use><use xlink:href="/big.svg#a"/><use href=\'/other.svg#a\'/><use href=/gone.svg#a /><use'
            .' href="#own"/><use class=x href="javascript:1#a">';
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T00:00:00Z', '<svg>'.$uses.'</svg>', destination: 'document')
            ->exchange(
                'http://lantern.test/i.svg', '2024-11-03T00:00:00Z', '<svg id="a"></script></svg>', 'image/svg+xml', destination: 'empty',
            )
            ->exchange(
                'http://lantern.test/big.svg', '2024-11-03T00:00:00Z', str_repeat('<g/>', 200_000), 'image/svg+xml', destination: 'empty',
            ));
        $this->takeIn(
            (new WarcBuilder('other'))->exchange(
                'http://lantern.test/other.svg', '2025-01-01T00:00:00Z', '<svg id="a">other</svg>', 'image/svg+xml',
            ),
            'other.warc.gz',
        );
        $code = $this->captureOf(self::PAGE)->code;
        foreach ([
            '-s' => ['http://lantern.test/i.svg', 'http://lantern.test/other.svg'], '-so' => ['http://lantern.test/i.svg'],
        ] as $mark => $wanted) {
            self::assertSame(1, preg_match('/\}\)\((\{"code".*\})\)\n/', $this->page(self::PAGE, $code, $mark), $m));
            $facts = json_decode($m[1], true);
            self::assertIsArray($facts);
            self::assertIsArray($facts['drawings']);
            self::assertSame($wanted, array_keys($facts['drawings']));
            self::assertSame('<svg id="a"></script></svg>', $facts['drawings']['http://lantern.test/i.svg']);
        }
        self::assertStringContainsString('"drawings":null', $this->page(self::PAGE, $code));
    }

    public function testAPageThatWasAskedForWithAFragmentIsOpenedThere(): void
    {
        $warc = (new WarcBuilder())->exchange(self::PAGE, '2024-11-03T00:00:00Z', '<p id="end">x', destination: 'document');
        foreach (['#the%20end' => 'Long', '#<script>"' => 'Longer', '#'.str_repeat('x', 600) => 'Longest'] as $fragment => $title) {
            $page = $warc->id(2);
            $warc->said(
                self::PAGE, '2024-11-03T00:00:01Z',
                (string) json_encode(['page' => $page, 'title' => $title, 'requested' => self::PAGE.$fragment]),
            );
            $this->takeIn($warc, $title.'.warc.gz');
            $capture = $this->captureOf(self::PAGE);
            self::assertSame($title, $capture->title);
            $src = html_entity_decode(1 === preg_match(
                '/<iframe id="page"[^>]* src="([^"]*)"/', $this->get('/c/'.$capture->code), $m,
            ) ? $m[1] : '');
            $wanted = ['Long' => '#the%20end', 'Longer' => '#%3Cscript%3E%22', 'Longest' => ''][$title];
            self::assertStringEndsWith("{$this->label($capture->code)}ah-lantern-test.localhost:8020/a".$wanted, $src);
            $warc = (new WarcBuilder($title))->exchange(
                self::PAGE, '2024-11-0'.(4 + \strlen($title) - 4).'T00:00:00Z', '<p>x', destination: 'document',
            );
        }
    }

    public function testInAFileOfManyPagesASocketIsOfThePageBeforeIt(): void
    {
        $warc = new WarcBuilder();
        foreach (['a', 'b'] as $name) {
            $warc->exchange('http://lantern.test/'.$name, '2024-11-03T00:00:00Z', '<p>'.$name, destination: 'document')
                ->resource('ws://lantern.test/'.$name.'/live', '2024-11-03T00:00:00Z', "\x1E{}\n", 'application/json-seq');
        }
        $this->takeIn($warc);
        foreach (['a', 'b'] as $name) {
            $code = $this->captureOf('http://lantern.test/'.$name)->code;
            foreach (['a', 'b'] as $other) {
                $this->client->request(
                    'GET', '/'.$other.'/live',
                    server: [
                        'HTTP_HOST' => "{$this->label($code)}aw-lantern-test.localhost:8020", 'HTTP_SEC_FETCH_DEST' => 'empty',
                        'HTTP_ORIGIN' => 'null',
                    ],
                );
                self::assertSame($name === $other, '' !== $this->header('Access-Control-Allow-Origin'), $name.' asks for '.$other);
            }
        }
    }

    /**
     * @param list<array{string, string, int, list<string>}> $others moment, body, status, fields of the part's captures
     * @param non-empty-string $said
     */
    #[DataProvider('coherence')]
    public function testAPartThatCertainlyWasAnotherIsSaidToBe(array $others, string $said): void
    {
        $code = $this->held('<img src="/x.png">', '2024-11-03');
        foreach ($others as $n => [$at, $body, $status, $fields]) {
            $this->takeIn(
                (new WarcBuilder('part'.$n))->exchange('http://lantern.test/x.png', $at, $body, 'image/png', $status, $fields),
                "part{$n}.warc.gz",
            );
        }
        $this->page('http://lantern.test/x.png', $code, '', 'image');
        self::assertStringEndsWith($said, $this->header('Server-Timing'));
    }

    /** @return iterable<string, array{list<array{string, string, int, list<string>}>, non-empty-string}> */
    public static function coherence(): iterable
    {
        yield 'made after the page' => [
            [['2025-01-05T00:00:00Z', 'B', 200, ['Last-Modified: Wed, 01 Jan 2025 10:00:00 GMT']]], 'Z", different',
        ];
        yield 'there before the page, kept after' => [
            [['2025-01-05T00:00:00Z', 'B', 200, ['Last-Modified: Tue, 01 Oct 2024 10:00:00 GMT']]], 'Z", same',
        ];
        yield 'the same on both sides' => [[['2024-01-05T00:00:00Z', 'A', 200, []], ['2025-01-05T00:00:00Z', 'A', 200, []]], 'Z", same'];
        yield 'replaced before the page' => [
            [['2024-11-01T00:00:00Z', 'A', 200, []], ['2025-01-05T00:00:00Z', 'B', 200, ['Last-Modified: Sat, 02 Nov 2024 10:00:00 GMT']]],
            'Z", different',
        ];
        yield 'gone on both sides' => [
            [['2024-11-01T00:00:00Z', '', 404, []], ['2024-11-05T00:00:00Z', '', 410, []], ['2026-01-05T00:00:00Z', 'B', 200, []]],
            'Z", different',
        ];
        yield 'nobody knows' => [
            [['2024-01-05T00:00:00Z', 'A', 200, []], ['2025-01-05T00:00:00Z', 'B', 200, ['Last-Modified: soon']]], 'Z"',
        ];
    }

    public function testManyPartsAreFoundAtOnceAsTheyAreSingly(): void
    {
        $this->takeIn((new WarcBuilder('own'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>x')
            ->exchange('http://lantern.test/own.png', '2024-11-03T10:00:01Z', 'own', 'image/png')
            ->exchange('https://www.lantern.test/alike.png?utm_source=x', '2024-11-03T10:00:02Z', 'alike', 'image/png')
            ->exchange('http://lantern.test/broken.png', '2024-11-03T10:00:03Z', '', 'image/png', 500)
            ->exchange('http://lantern.test/broken.png', '2024-11-03T10:00:04Z', 'whole', 'image/png'));
        foreach (['2024-01-01', '2024-10-30', '2024-11-09', '2025-06-01'] as $n => $day) {
            $this->takeIn((new WarcBuilder('o'.$n))->exchange('http://lantern.test/own.png', $day.'T00:00:00Z', 'other', 'image/png')
                ->exchange('http://lantern.test/else.png', $day.'T00:00:00Z', 'else'.$n, 'image/png', 1 === $n ? 404 : 200)
                ->exchange('http://WWW.lantern.test:80/spelled.png', $day.'T00:00:00Z', 'spelled', 'image/png'), "o{$n}.warc.gz");
        }
        $capture = $this->captureOf(self::PAGE);
        $finder = self::service(RecordFinder::class);
        $urls = array_map(
            static fn (string $name): string => 'http://lantern.test/'.$name,
            ['own.png', 'alike.png', 'broken.png', 'else.png', 'spelled.png', 'never.png'],
        );
        $all = $finder->findAll(Viewer::system(), $urls, (int) $capture->warcFile->id, $capture->capturedAt);
        self::assertSame($urls, array_values(array_intersect($urls, array_keys($all))));
        foreach ($urls as $url) {
            self::assertEquals($finder->find(Viewer::system(), $url, (int) $capture->warcFile->id, $capture->capturedAt), $all[$url], $url);
        }
        self::assertNull($all['http://lantern.test/never.png']);
        self::assertSame('2024-11-09', $all['http://lantern.test/else.png']?->at->format('Y-m-d'));
    }

    public function testOnlyThisCaptureLeavesOutWhatOthersHave(): void
    {
        $code = $this->held('<img src="/late.png">');
        $this->takeIn((new WarcBuilder('later'))->exchange('http://lantern.test/late.png', '2025-01-01T10:00:00Z', 'late', 'image/png'));
        self::assertSame('late', $this->page('http://lantern.test/late.png', $code, '', 'image'));
        self::assertSame('', $this->page('http://lantern.test/late.png', $code, '-o', 'image'));
        self::assertSame([404, 'gap'], [$this->answered(), $this->header('Server-Timing')]);
        self::assertStringContainsString('<img src="/late.png">', $this->page(self::PAGE, $code, '-so'));
    }

    public function testWhatWasNotKeptSaysSo(): void
    {
        $code = $this->held('<p>x');
        self::assertStringContainsString('was not captured', $this->page('http://lantern.test/never?a=<b>', $code));
        self::assertSame(404, $this->answered());
        self::assertStringNotContainsString('<b>', $this->body());
        self::assertSame('', $this->page('http://lantern.test/never.png', $code, '', 'image'));
        self::assertSame([404, 'gap'], [$this->answered(), $this->header('Server-Timing')]);
    }

    public function testStillReadingShowsTheRenderedDocument(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            self::PAGE, '2024-11-03T10:00:00Z', '<p>before<script>1</script>', destination: 'document',
        )->rendered(self::PAGE, '2024-11-03T10:00:00Z', '<html><head></head><body><p>after</p></body></html>'));
        $code = $this->captureOf(self::PAGE)->code;
        self::assertStringContainsString('before', $this->page(self::PAGE, $code));
        self::assertStringContainsString('after', $this->page(self::PAGE, $code, '-s'));
    }

    public function testAnOldEncodingIsReadRight(): void
    {
        $greek = (string) iconv('UTF-8', 'windows-1253', '<html><head></head><body><p>Πορθμεία Αλίκη</p></body></html>');
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T10:00:00Z', $greek, 'text/html; charset=windows-1253'));
        self::assertStringContainsString('Πορθμεία Αλίκη', $this->page(self::PAGE, $this->captureOf(self::PAGE)->code));
        self::assertSame('text/html; charset=utf-8', $this->header('Content-Type'));
    }

    public function testPackedBodiesAndRanges(): void
    {
        $this->takeIn((new WarcBuilder())
            ->exchange(self::PAGE, '2024-11-03T10:00:00Z', (string) gzencode('<p>packed'), fields: ['Content-Encoding: gzip'])
            ->exchange('http://lantern.test/v.mp4', '2024-11-03T10:00:00Z', '0123456789', 'video/mp4')
            ->exchange('http://lantern.test/s.ogg', '2024-11-03T10:00:00Z', '0123456789', 'audio/ogg')
            ->exchange('http://lantern.test/r.ogg', '2024-11-03T10:00:00Z', '0123456789', 'audio/ogg', fields: ['Accept-Ranges: bytes']));
        $code = $this->captureOf(self::PAGE)->code;
        self::assertStringContainsString('packed', $this->page(self::PAGE, $code));
        $ask = fn (string $range, string $path = '/v.mp4'): string => $this->client->request(
            'GET', $path,
            server: [
                'HTTP_HOST' => "{$this->label($code)}ah-lantern-test.localhost:8020", 'HTTP_SEC_FETCH_DEST' => 'video',
                'HTTP_RANGE' => $range,
            ],
        )->count().$this->body();
        ob_start();
        self::assertStringEndsWith('3456', $ask('bytes=3-6'));
        self::assertSame([206, 'bytes 3-6/10'], [$this->answered(), $this->header('Content-Range')]);
        self::assertStringEndsWith('789', $ask('bytes=7-99'));
        $ask('bytes=10-');
        self::assertSame(416, $this->answered());
        // A sound is given in ranges if its server gave them.
        self::assertStringEndsWith('3456', $ask('bytes=3-6', '/r.ogg'));
        self::assertStringEndsWith('0123456789', $ask('bytes=3-6', '/s.ogg'));
        self::assertSame([200, '', '10'], [$this->answered(), $this->header('Accept-Ranges'), $this->header('Content-Length')]);
        ob_end_clean();
    }

    public function testAPostIsAnsweredByWhatAPostBrought(): void
    {
        $builder = new WarcBuilder();
        $builder->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>x')->exchange(
            'http://lantern.test/api', '2024-11-03T10:00:01Z', 'got', 'text/plain',
        )->exchange('http://lantern.test/api', '2024-11-03T10:00:02Z', 'posted', 'text/plain', method: 'POST');
        $this->takeIn($builder);
        $code = $this->captureOf(self::PAGE)->code;
        self::assertSame('posted', $this->page('http://lantern.test/api', $code, '', 'empty', 'POST'));
        self::assertSame('got', $this->page('http://lantern.test/api', $code, '', 'empty'));
    }

    /**
     * @param array<string, string> $fields
     */
    #[DataProvider('revisits')]
    public function testARevisitIsReadWithTheContentThatItRefersTo(array $fields, string $head, bool $held): void
    {
        $this->takeIn(
            (new WarcBuilder('first'))->exchange(
                self::PAGE, '2024-01-01T00:00:00Z', (string) gzencode('<p>as it was'), fields: ['Content-Encoding: gzip'],
            ),
            'first.warc.gz',
        );
        $this->takeIn((new WarcBuilder('second'))->revisit(self::PAGE, '2024-06-01T00:00:00Z', $fields, $head), 'second.warc.gz');
        $later = $this->captureOf(self::PAGE, '2024-06-01');
        self::assertSame('2024-06-01', $later->capturedAt->format('Y-m-d'));
        $body = $this->page(self::PAGE, $later->code);
        self::assertStringContainsString($held ? 'as it was' : 'is not held', $body);
        self::assertSame($held ? 200 : 502, $this->answered());
    }

    /**
     * @return iterable<string, array{array<string, string>, string, bool}>
     */
    public static function revisits(): iterable
    {
        $packed = (string) gzencode('<p>as it was');
        $head = "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Encoding: gzip\r\n\r\n";
        yield 'by digest' => [['WARC-Payload-Digest' => 'sha256:'.hash('sha256', $packed)], $head, true];
        yield 'by id' => [
            ['WARC-Refers-To' => '<'.(new WarcBuilder('first'))->id(2).'>', 'WARC-Payload-Digest' => 'sha1:'.sha1($packed)], $head, true,
        ];
        yield 'by address and date' => [
            ['WARC-Refers-To-Target-URI' => self::PAGE, 'WARC-Refers-To-Date' => '2024-01-01T00:00:00Z'], $head, true,
        ];
        yield 'without a head of its own' => [['WARC-Payload-Digest' => 'sha256:'.hash('sha256', $packed)], '', true];
        yield 'not modified' => [
            ['WARC-Profile' => 'http://netpreserve.org/warc/1.1/revisit/server-not-modified'],
            "HTTP/1.1 304 Not Modified\r\nETag: x\r\n\r\n",
            true,
        ];
        yield 'of what is not held' => [['WARC-Payload-Digest' => 'sha256:'.hash('sha256', 'never seen')], $head, false];
    }

    public function testARecordThatWasCutIntoPiecesIsReadAsOne(): void
    {
        $warc = static fn (string $type, string $id, string $fields, string $block): string =>
            "WARC/1.0\r\nWARC-Type: {$type}\r\nWARC-Record-ID: <urn:uuid:{$id}>\r\nWARC-Date: 2024-11-03T10:00:00Z\r\nWARC-Target-URI: "
            .self::PAGE."\r\n{$fields}Content-Length: ".\strlen($block)."\r\n\r\n{$block}\r\n\r\n";
        $first = $warc(
            'response',
            '1',
            "WARC-Segment-Number: 1\r\nContent-Type: application/http; msgtype=response\r\n",
            "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n<p>one ",
        );
        $third = $warc(
            'continuation',
            '3',
            "WARC-Segment-Origin-ID: <urn:uuid:1>\r\nWARC-Segment-Number: 3\r\nWARC-Segment-Total-Length: 60\r\n",
            'three',
        );
        $second = $warc('continuation', '2', "WARC-Segment-Origin-ID: <urn:uuid:1>\r\nWARC-Segment-Number: 2\r\n", 'two ');
        $take = self::service(\Ypomna\App\Exchange\Importer::class);
        $by = new \Ypomna\App\Shared\Actor('Tomas Okoye');
        $take->file($this->folder->file('1.warc', $first.$third), $by);
        $take->file($this->folder->file('2.warc', $second), $by);
        self::assertStringContainsString('one two three', $this->page(self::PAGE, $this->captureOf(self::PAGE)->code));
    }

    public function testStillReadingShowsFramesAsTheirScriptsLeftThem(): void
    {
        $frame = 'http://cdn.lantern.test/frame';
        $warc = (new WarcBuilder())->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<iframe src="'.$frame.'"></iframe>')->rendered(
            self::PAGE, '2024-11-03T10:00:00Z', '<iframe src="'.$frame.'"></iframe><p>Rendered.',
        )
            ->exchange($frame, '2024-11-03T10:00:01Z', '<p>As received.')->rendered(
                $frame, '2024-11-03T10:00:01Z', '<p>As its scripts left it.',
            )
            ->said(self::PAGE, '2024-11-03T10:00:00Z', (string) json_encode(['page' => (new WarcBuilder())->id(2), 'title' => 'x']));
        $this->takeIn($warc);
        $code = $this->captureOf(self::PAGE)->code;
        self::assertStringContainsString('Rendered.', $this->page(self::PAGE, $code, '-s'));
        self::assertStringContainsString('As its scripts left it.', $this->page($frame, $code, '-s'));
        self::assertStringContainsString('As received.', $this->page($frame, $code));
    }

    public function testTheWindowNamesTheMomentAndItsNeighbours(): void
    {
        foreach (['2024-01-01', '2024-02-01', '2024-03-01'] as $day) {
            $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T00:00:00Z', '<p>'.$day), $day.'.warc.gz');
        }
        $middle = $this->captureOf(self::PAGE, '2024-02-01');
        $body = $this->get('/c/'.$middle->code);
        self::assertStringContainsString('1 Feb 2024', $body);
        foreach (['ArrowLeft', 'ArrowRight', 'Home', 'End'] as $key) {
            self::assertStringContainsString('data-step="'.$key.'"', $body);
        }
        self::assertStringContainsString('sandbox="allow-scripts allow-forms"', $body);
        // A browser that does not know the whole wall reads still.
        $this->client->request(
            'GET', '/c/'.$middle->code, server: ['HTTP_USER_AGENT' => 'Mozilla/5.0 (X11; Linux x86_64; rv:130.0) Gecko/20100101'],
        );
        self::assertStringContainsString('sandbox="allow-scripts"', $this->body());
        self::assertStringContainsString($this->label($middle->code).'sh-lantern-test.localhost:8020/', $this->body());
        self::assertStringContainsString('frame-src http://*.localhost:8020', $this->header('Content-Security-Policy'));
        $this->get('/c/'.str_repeat('z', 12));
        self::assertSame(404, $this->answered());
    }

    public function testADamagedPartIsSaidToBeUnreadable(): void
    {
        $code = $this->held('<p>x');
        $file = \Ypomna\App\Shared\Settings::dataFolder().'/store/'.$this->captureOf(self::PAGE)->warcFile->path;
        chmod($file, 0o644);
        file_put_contents($file, substr((string) file_get_contents($file), 0, 40));
        self::assertStringContainsString('cannot be read from its file', $this->page(self::PAGE, $code));
        self::assertSame(502, $this->answered());
    }

    private function held(string $html, string $day = '2024-11-03'): string
    {
        $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T10:00:00Z', $html), $day.'.warc.gz');

        return $this->captureOf(self::PAGE)->code;
    }
}
