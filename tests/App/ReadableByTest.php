<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\App\Replay\CatalogueHoldings;
use Ypomna\App\Replay\CorsPolicy;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\Value\PartQuery;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Tests\Support\WarcBuilder;

/** Whose scripts may read what is archived: those of a capture what it asked for itself, and nobody anything else. */
final class ReadableByTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testOnlyTheCapturesOwnPagesMayReadIt(): void
    {
        $code = $this->held(self::PAGE, '2024-11-03', '<p>secret');
        $other = $this->held('http://evil.test/', '2024-11-04', '<p>evil');
        $cases = [
            'null' => true, "http://{$this->label($code)}ah-cdn-test.localhost:8020" => true,
            "http://{$this->label($code)}st-lantern-test-8443.localhost:8020" => true,
            "http://{$this->label($other)}ah-evil-test.localhost:8020" => false,
            "http://{$this->label($code)}ah-lantern-test.localhost:9999" => false,
            "https://{$this->label($code)}ah-lantern-test.localhost:8020" => false,
            "http://{$this->label($code)}ah-lantern-test.localhost:8020.evil.test" => false,
            "http://evil.test/?{$this->label($code)}ah-lantern-test.localhost:8020" => false, 'http://localhost:8020' => false,
            'https://evil.test' => false,
            'NULL' => false, '' => false, '*' => false, "null\r\nSet-Cookie: a" => false,
        ];
        foreach ($cases as $origin => $mayRead) {
            foreach (['GET', 'OPTIONS', 'POST', 'HEAD'] as $method) {
                $this->ask(self::PAGE, $code, $origin, $method);
                self::assertSame($mayRead ? $origin : '', $this->header('Access-Control-Allow-Origin'), "{$method} {$origin}");
                self::assertSame($mayRead ? 'true' : '', $this->header('Access-Control-Allow-Credentials'), "{$method} {$origin}");
                self::assertSame('', $this->header('Set-Cookie'));
            }
        }
        $this->ask(self::PAGE, $code, 'null', 'OPTIONS', ['HTTP_ACCESS_CONTROL_REQUEST_HEADERS' => 'x-own']);
        self::assertSame([204, 'x-own'], [$this->answered(), $this->header('Access-Control-Allow-Headers')]);
        $this->ask(self::PAGE, $code, 'https://evil.test', 'OPTIONS', ['HTTP_ACCESS_CONTROL_REQUEST_HEADERS' => 'x-own']);
        self::assertSame('', $this->header('Access-Control-Allow-Headers'));
        self::assertStringContainsString('Origin', $this->header('Vary'));
        self::assertSame('null', $this->header('Timing-Allow-Origin'));
    }

    public function testWhatAnotherCaptureHasStandsInButIsReadableToNoScript(): void
    {
        $code = $this->held(self::PAGE, '2024-11-03', '<img src="/x.png">');
        $this->takeIn(
            (new WarcBuilder('s'))->exchange('http://lantern.test/secret', '2024-11-03T11:00:00Z', '<p>secret')->exchange(
                'http://lantern.test/x.png', '2024-11-03T11:00:01Z', 'PNG', 'image/png',
            )->exchange('http://lantern.test/data', '2024-11-03T11:00:02Z', '{}', 'application/json'),
            's.warc.gz',
        );
        foreach ([
            'http://lantern.test/secret' => '<p>secret', 'http://lantern.test/x.png' => 'PNG', 'http://lantern.test/data' => '{}',
        ] as $url => $body) {
            foreach (['GET', 'OPTIONS'] as $method) {
                self::assertStringContainsString('GET' === $method ? $body : '', $this->ask($url, $code, 'null', $method));
                self::assertSame('', $this->header('Access-Control-Allow-Origin'), "{$method} {$url}");
            }
        }
        // What nobody has is the same to everybody.
        $this->ask('http://lantern.test/nowhere', $code, 'null');
        self::assertSame([404, 'null'], [$this->answered(), $this->header('Access-Control-Allow-Origin')]);
        // A link still leads to the nearest moment.
        $this->page('http://lantern.test/secret', $code);
        self::assertSame(302, $this->answered());
        self::assertSame('', $this->header('Access-Control-Allow-Origin'));
    }

    public function testInAFileOfManyPagesNoneReadsAnother(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            self::PAGE, '2024-11-03T10:00:00Z', '<script src="http://cdn.test/own.js"></script>',
        )->exchange('http://lantern.test/own.json', '2024-11-03T10:00:01Z', '{}', 'application/json')
            ->exchange(
                'http://cdn.test/own.js', '2024-11-03T10:00:02Z', 'own()', 'text/javascript',
            )->exchange('http://bank.test/account', '2024-11-03T10:00:03Z', '<p>secret')->exchange(
                'http://bank.test/account.json', '2024-11-03T10:00:04Z', '{}', 'application/json',
            )
            ->exchange('http://lantern.test/b', '2024-11-03T10:00:05Z', '<p>another page'));
        $code = $this->captureOf(self::PAGE)->code;
        foreach ([
            self::PAGE => true, 'http://lantern.test/own.json' => true, 'http://cdn.test/own.js' => true,
            'http://bank.test/account' => false, 'http://bank.test/account.json' => false, 'http://lantern.test/b' => false,
        ] as $url => $mayRead) {
            $this->ask($url, $code, 'null');
            self::assertSame([200, $mayRead ? 'null' : ''], [$this->answered(), $this->header('Access-Control-Allow-Origin')], $url);
        }
    }

    public function testWhatWasFetchedLaterToCompleteACaptureIsItsOwn(): void
    {
        $code = $this->held(self::PAGE, '2024-11-03', '<script type="module" src="/m.js"></script>');
        $this->takeIn(
            (new WarcBuilder('m'))->exchange('http://lantern.test/m.js', '2024-11-05T11:00:00Z', 'own()', 'text/javascript'), 'm.warc.gz',
        );
        $holdings = self::service(CatalogueHoldings::class);
        $capture = $holdings->capture(Viewer::system(), $code);
        self::assertNotNull($capture);
        $place = $holdings->find('http://lantern.test/m.js', $capture, 'GET', null);
        self::assertNotNull($place);
        self::assertFalse($holdings->isOwn($place, $capture));
        self::service(MirroredLedger::class)->enter('capture.completed', $place->path, ['completes' => $code]);
        self::assertFalse($holdings->isOwn($place, $capture), 'A file of others completes nothing, whatever is said of it.');
        self::service(\Doctrine\DBAL\Connection::class)->executeStatement(
            "UPDATE warc_file SET origin = 'own' WHERE path = ?", [$place->path],
        );
        $place = $holdings->find('http://lantern.test/m.js', $capture, 'GET', null);
        self::assertNotNull($place);
        self::assertTrue($holdings->isOwn($place, $capture));
    }

    /** @return iterable<string, array{string, string}> */
    public static function names(): iterable
    {
        yield 'no page host' => ['http://localhost:8020', 'lantern.test'];
        yield 'another label' => [
            'http://'.str_repeat('z', 26).'ah-lantern-test.localhost:8020', str_repeat('y', 26).'ah-lantern-test.localhost',
        ];
    }

    #[DataProvider('names')]
    public function testStrangeHostsOpenNothing(string $origin, string $host): void
    {
        self::assertSame(
            [],
            CorsPolicy::headers(
                new PartQuery('GET', 'http', $host, ':8020', '/', ['origin' => $origin]), new PageHosts('localhost'),
            ),
        );
    }

    public function testWhatIsReadIsToldOnlyToWhoCanProveIt(): void
    {
        $code = $this->held(self::PAGE, '2024-11-03', '<p>a');
        $other = $this->held('http://lantern.test/other', '2024-11-03', '<p>other');
        $proof = self::service(ReadingProof::class);
        foreach (['', 'guessed', $proof->of($other)] as $wrong) {
            $this->get("/c/{$code}/bar?proof=".$wrong);
            self::assertSame(403, $this->answered());
        }
        self::assertStringContainsString('3 Nov 2024', $this->get("/c/{$code}/bar?proof=".$proof->of($code)));
        // It stands in the document for the frame alone, and never where a script can ask for it.
        self::assertStringContainsString($proof->of($code), $this->page(self::PAGE, $code));
        foreach (['empty', 'image', 'script', 'style'] as $destination) {
            self::assertStringNotContainsString($proof->of($code), $this->page(self::PAGE, $code, '', $destination));
        }
    }

    public function testOnlyWhatACaptureAsksForMayBeOfferedToBeKept(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            self::PAGE,
            '2024-11-03T10:00:00Z',
            '<link rel="stylesheet" href="/a.css"><img src="/gone.png"><img src="http://cdn.test/there.png">',
        )->exchange(
            'http://lantern.test/a.css', '2024-11-03T10:00:01Z', 'p{background:url(deep.png)}', 'text/css',
        )->exchange('http://cdn.test/there.png', '2024-11-03T10:00:02Z', 'PNG', 'image/png'));
        $body = json_decode($this->get('/c/'.$this->captureOf(self::PAGE)->code.'/missing'), true);
        self::assertSame(['missing' => ['http://lantern.test/gone.png', 'http://lantern.test/deep.png']], $body);
    }

    private function held(string $url, string $day, string $html): string
    {
        $this->takeIn((new WarcBuilder($url.$day))->exchange($url, $day.'T10:00:00Z', $html), hash('sha256', $url.$day).'.warc.gz');

        return $this->captureOf($url, $day)->code;
    }

    /** @param array<string, string> $more */
    private function ask(string $url, string $code, string $origin, string $method = 'GET', array $more = []): string
    {
        $parts = parse_url($url);
        self::assertIsArray($parts);
        ob_start();
        $this->client->request(
            $method,
            $parts['path'] ?? '/',
            server: $more + [
                'HTTP_HOST' => self::pageHost($url, $this->label($code)),
                'HTTP_SEC_FETCH_DEST' => 'empty',
                'HTTP_ORIGIN' => $origin,
            ],
        );
        ob_end_clean();

        return $this->body();
    }
}
