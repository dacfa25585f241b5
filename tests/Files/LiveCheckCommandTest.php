<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Liveness\Console\LiveCheckCommand;
use Ypomna\App\Liveness\WebCheck;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Address\Url;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Told;

/** `live:check` against a server that behaves and misbehaves. */
final class LiveCheckCommandTest extends TestCase
{
    private static int $port;
    /** @var resource|null */
    private static $server;

    public static function setUpBeforeClass(): void
    {
        $free = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($free);
        self::$port = (int) substr((string) strrchr((string) stream_socket_get_name($free, false), ':'), 1);
        fclose($free);
        $server = proc_open(
            ['php', \dirname(__DIR__).'/Support/live.php', (string) self::$port],
            [['file', '/dev/null', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
        );
        self::assertNotFalse($server);
        self::assertSame("ready\n", fgets($pipes[1]));
        self::$server = $server;
    }

    public static function tearDownAfterClass(): void
    {
        if (null !== self::$server) {
            proc_terminate(self::$server, \SIGKILL);
        }
    }

    #[DataProvider('paths')]
    public function testTheVerdict(string $path, string $verdict, ?int $status, int $hops = 1): void
    {
        $told = $this->check(["http://lantern.test/{$path}"]);
        self::assertCount(1, $told->rows);
        self::assertSame(
            $verdict, self::text($told, 'verdict').' '.self::text($told, 'reason'), (string) json_encode($told->rows[0]['evidence']),
        );
        self::assertSame($status, $told->rows[0]['status']);
        $asked = $told->rows[0]['hops'];
        self::assertIsArray($asked);
        self::assertCount($hops, $asked);
        self::assertSame('alive' === strtok($verdict, ' ') ? 0 : 1, $told->status);
    }

    /**
     * @return iterable<string, array{0: string, 1: string, 2: int|null, 3?: int}>
     */
    public static function paths(): iterable
    {
        yield 'a page' => ['ok/a', 'alive ok', 200];
        yield 'in chunks, packed' => ['gzip/a', 'alive ok', 200];
        yield 'an old server' => ['latin/a', 'alive ok', 200];
        yield 'a trailing slash' => ['slash', 'alive ok', 200, 2];
        yield 'a cookie on the way' => ['cookie/a', 'alive ok', 200, 2];
        yield 'gone' => ['gone/a', 'vanished gone', 410];
        yield 'missing' => ['missing/a', 'vanished not-found', 404];
        yield 'soft' => ['soft/a', 'vanished soft-404', 200];
        yield 'down' => ['down/a', 'unreachable server-error', 503];
        yield 'legal' => ['legal/a', 'blocked legal', 451];
        yield 'a loop' => ['loop', 'unreachable redirect-loop', null, 2];
        yield 'no end of redirects' => ['far/1', 'unreachable redirect-loop', null, 21];
        yield 'a redirect to nowhere' => ['nowhere', 'unreachable bad-response', 302];
        yield 'a redirect out of the web' => ['foreign', 'unreachable bad-response', 302];
        yield 'a redirect into an application' => ['app', 'unreachable bad-response', 302];
        yield 'moved' => ['moved/a', 'moved redirect', 200, 2];
        yield 'moved by the page' => ['refresh/a', 'moved redirect', 200, 2];
        yield 'to the front page' => ['front/a', 'vanished home-redirect', 200, 2];
        yield 'to a sign-in' => ['login/a', 'blocked login', 200, 2];
        yield 'empty' => ['empty', 'unreachable bad-response', 200];
        yield 'cut short' => ['short', 'unreachable bad-response', 200];
        yield 'garbage' => ['garbage', 'unreachable bad-response', null];
        yield 'reset' => ['reset', 'unreachable bad-response', null];
        yield 'into a closed network' => ['inside', 'unreachable refused', null, 2];
    }

    public function testWhatIsHeldTells(): void
    {
        $folder = new Folder();
        $same = $folder->file('same.html', (string) file_get_contents('http://127.0.0.1:'.self::$port.'/ok/a'));
        $other = $folder->file(
            'other.html',
            '<article><h1>Tide tables</h1><p>'
                .str_repeat('High water at the mole is told for every day of the coming month, with its height over chart datum. ', 9)
                .'</p></article>',
        );
        self::assertSame('alive', self::text($this->check(['http://lantern.test/ok/a'], ['--against' => $same]), 'verdict'));
        self::assertSame('moved', self::text($this->check(['http://lantern.test/moved/a'], ['--against' => $same]), 'verdict'));
        self::assertSame('changed', self::text($this->check(['http://lantern.test/ok/a'], ['--against' => $other]), 'verdict'));
    }

    public function testNobodyIsThere(): void
    {
        $free = stream_socket_server('tcp://127.0.0.1:0');
        self::assertNotFalse($free);
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($free, false), ':'), 1);
        fclose($free);
        $told = Told::by(
            new LiveCheckCommand(), ['url' => ["http://nobody.test:{$port}/"], '--resolve' => ["nobody.test:{$port}:127.0.0.1"]],
        );
        self::assertSame('unreachable refused', self::text($told, 'verdict').' '.self::text($told, 'reason'));
        // A server that speaks no TLS.
        $told = Told::by(new LiveCheckCommand(), ['url' => ['https://lantern.test/ok'], '--resolve' => ['*:443:127.0.0.1:'.self::$port]]);
        self::assertSame('unreachable tls', self::text($told, 'verdict').' '.self::text($told, 'reason'));
    }

    public function testAServerThatHangsIsGivenUp(): void
    {
        $start = microtime(true);
        $result = (new WebCheck(new WebAccess(routes: '*:80:127.0.0.1:'.self::$port), 2))->check(Url::parse('http://lantern.test/hang'));
        self::assertSame('timeout', $result->failure?->value);
        self::assertLessThan(8.0, microtime(true) - $start);
    }

    public function testSeveralAddressesAreLinesAndNonsenseIsRefused(): void
    {
        $told = $this->check(['http://lantern.test/ok/a', 'http://lantern.test/gone/a']);
        self::assertSame(['alive', 'vanished'], $told->column('verdict'));
        self::assertSame(1, $told->status);
        $this->expectException(UnreadableFile::class);
        $this->check(['http://']);
    }

    /**
     * @param list<string> $urls
     * @param array<string, string> $options
     */
    private function check(array $urls, array $options = []): Told
    {
        return Told::by(new LiveCheckCommand(), ['url' => $urls, '--resolve' => ['lantern.test:80:127.0.0.1:'.self::$port]] + $options);
    }

    private static function text(Told $told, string $name): string
    {
        $value = $told->rows[0][$name] ?? null;
        self::assertIsString($value);

        return $value;
    }
}
