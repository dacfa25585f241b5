<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Ypomna\App\Network\Browser\BrowserCell;
use Ypomna\Tests\Support\AttackSite;
use Ypomna\Tests\Support\FreePort;
use Ypomna\Tests\Support\Stack;

/** Pages that go for the machine: each may cost its own capture, and nothing else. */
final class AttackTest extends TestCase
{
    private static Process $web;
    private static int $port;
    private static string $folder;

    public static function setUpBeforeClass(): void
    {
        self::$folder = getenv('YPOMNA_TEST_TMP').'/attacks';
        mkdir(self::$folder, 0o755, true);
        // What captures leave behind is looked for here; others are at work beside this.
        mkdir(self::$folder.'/t');
        chmod(self::$folder.'/t', 0o1777);
        self::$port = FreePort::pair();
        self::$web = new Process(
            ['php', Stack::root().'/standin/web.php', self::$folder, '127.0.0.1:'.self::$port, '127.0.0.1:'.(self::$port + 1), '2'],
            env: ['STANDIN_SITES' => Stack::root().'/tests/Support/attacks.php'],
        );
        self::$web->start();
        for ($n = 0; $n < 200 && false === @fsockopen('127.0.0.1', self::$port); ++$n) {
            usleep(50_000);
        }
    }

    public static function tearDownAfterClass(): void
    {
        self::$web->stop(3, \SIGTERM);
    }

    /**
     * @param array<string, string> $limits
     * @param list<string> $verdicts
     */
    #[DataProvider('attacks')]
    public function testAPageCostsItsOwnCaptureAtMost(string $name, array $limits, array $verdicts, ?string $message): void
    {
        $begun = microtime(true);
        [$status, $said] = self::capture($name, $limits);
        self::assertLessThan(60.0, microtime(true) - $begun);
        self::assertContains($said['verdict'] ?? null, $verdicts, (string) json_encode($said));
        self::assertSame('whole' === ($said['verdict'] ?? null) ? 0 : 1, $status);
        if (null !== $message) {
            self::assertSame('browser', $said['reason'] ?? null, (string) json_encode($said));
        }
        self::assertSame([], glob(self::$folder.'/t/*'), 'The browser left something behind.');
        self::assertSame(
            '',
            trim((string) shell_exec('pgrep -f '.escapeshellarg('user-data-dir='.self::$folder.'/[t]/').' || true')),
            'A browser went on.',
        );
    }

    /**
     * @return iterable<string, array{string, array<string, string>, list<string>, string|null}>
     */
    public static function attacks(): iterable
    {
        yield 'memory outside of the heap' => ['memory', ['BROWSER_MEMORY' => '700'], ['gaps', 'failed'], 'memory'];
        yield 'a disk to be filled' => ['disk', ['BROWSER_DISK' => '80'], ['gaps', 'failed'], 'disk'];
        yield 'a script without end' => ['spin', [], ['whole', 'gaps', 'failed'], null];
        yield 'windows and frames without number' => ['windows', [], ['gaps', 'failed'], null];
    }

    public function testNothingOfTheMachineIsReached(): void
    {
        // A machine that allows no such network has other walls; then only those are tried here.
        $any = @stream_socket_client('udp://192.0.2.254:9');
        $place = false === $any ? '127.0.0.1' : (string) strstr((string) stream_socket_get_name($any, false), ':', true);
        [$tcp, $udp] = FreePort::both();
        $port = FreePort::number($udp);
        stream_set_blocking($udp, false);
        $heard = static function () use ($udp, $tcp): array {
            $words = [];
            while (false !== ($client = @stream_socket_accept($tcp, 0))) {
                stream_set_timeout($client, 0, 200_000);
                $words[] = 'tcp '.strtok((string) fread($client, 200), "\r\n");
                fclose($client);
            }
            while ('' !== (string) @stream_socket_recvfrom($udp, 2_000)) {
                $words[] = 'udp';
            }

            return array_values(array_unique($words));
        };
        // Without walls the same page is heard: a test that hears nothing anyway would prove nothing.
        $profile = self::$folder.'/profile';
        $bare = new Process([
            '/usr/bin/chromium',
            '--headless',
            '--no-sandbox',
            '--disable-gpu',
            '--user-data-dir='.$profile,
            '--host-resolver-rules=MAP attack.test 127.0.0.1:'.self::$port,
            '--remote-debugging-port=0',
            'http://'.AttackSite::HOST.'/out/'.$port.'/'.$place,
        ]);
        $bare->setTimeout(60)->start();
        $proven = [];
        for ($n = 0; $n < 300 && (!\in_array('udp', $proven, true) || \count($proven) < 4); ++$n) {
            $proven = array_values(array_unique([...$proven, ...$heard()]));
            usleep(50_000);
        }
        $bare->stop(2);
        $heard();
        self::assertContains('udp', $proven, implode(', ', $proven));
        self::assertGreaterThan(2, \count($proven));
        [, $said] = self::capture(
            'out/'.$port.'/'.$place, [], static function () use ($heard, &$leaks): void { $leaks = [...$leaks ?? [], ...$heard()]; },
        );
        self::assertSame([], BrowserCell::isPossible() ? $leaks : array_diff($leaks ?? [], ['udp']));
        self::assertContains($said['verdict'] ?? null, ['gaps', 'whole']);
        self::assertStringNotContainsString(
            'root:x:0:0', (string) file_get_contents('compress.zlib://'.self::$folder.'/out-'.$port.'-'.$place.'.warc.gz'),
        );
    }

    /**
     * @param array<string, string> $limits
     *
     * @return array{int, array<string, mixed>}
     */
    private static function capture(string $name, array $limits, ?\Closure $meanwhile = null): array
    {
        $file = self::$folder.'/'.str_replace('/', '-', $name).'.warc.gz';
        // What goes for a limit gets the time to reach it, however busy the machine is; the limit ends it.
        $process = new Process(
            [
                'php', Stack::root().'/bin/ypomna', 'capture', 'http://'.AttackSite::HOST.'/'.$name, '--out', $file, '--json',
                '--max-seconds', [] === $limits ? '8' : '30', '--wait', [] === $limits ? '1' : '15', '--resolve',
                AttackSite::HOST.':80:127.0.0.1:'.self::$port,
            ],
            env: $limits + ['TMPDIR' => self::$folder.'/t'],
        );
        $process->setTimeout(150)->start();
        while ($process->isRunning()) {
            usleep(50_000);
            $meanwhile?->__invoke();
        }
        $said = json_decode($process->getOutput(), true);
        /** @var array<string, mixed> $said */
        $said = \is_array($said) ? $said : ['output' => $process->getOutput().$process->getErrorOutput()];

        return [(int) $process->getExitCode(), $said];
    }
}
