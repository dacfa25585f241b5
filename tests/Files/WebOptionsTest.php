<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Ypomna\Tests\Support\Folder;

/** How the commands that work on files alone reach the web. */
final class WebOptionsTest extends TestCase
{
    private ?Folder $folder = null;

    /** @param list<string> $words */
    #[DataProvider('commands')]
    public function testTheNameServerOfTheSettingIsAsked(array $words): void
    {
        $server = stream_socket_server('udp://127.0.0.1:0', $code, $why, \STREAM_SERVER_BIND);
        self::assertNotFalse($server);
        stream_set_blocking($server, false);
        $process = $this->ypomna($words, 'dns://'.stream_socket_get_name($server, false));
        $process->start();
        $asked = '';
        while ('' === $asked && $process->isRunning()) {
            usleep(20_000);
            $asked = (string) stream_socket_recvfrom($server, 512, 0, $from);
        }
        $process->stop(0);
        // A name as it stands in a question: each label behind its length (RFC 1035, section 4.1.2).
        self::assertStringContainsString("\x05names\x07lantern\x04test\x00", $asked);
    }

    /** @param list<string> $words */
    #[DataProvider('commands')]
    public function testOneThatIsNoneIsNamed(array $words): void
    {
        $process = $this->ypomna($words, '127.0.0.1');
        self::assertNotSame(0, $process->run());
        self::assertStringContainsString('RESOLVER_DSN is “127.0.0.1”', $process->getOutput().$process->getErrorOutput());
    }

    /** @return iterable<string, array{list<string>}> */
    public static function commands(): iterable
    {
        yield 'a look' => [['live:check', 'http://names.lantern.test/']];
        yield 'a capture' => [['capture', 'http://names.lantern.test/', '--how', 'plain', '--out', 'OUT']];
    }

    /** @param list<string> $words */
    private function ypomna(array $words, string $resolver): Process
    {
        $this->folder ??= new Folder();
        $words = str_replace('OUT', $this->folder->path.'/a.warc.gz', $words);

        return new Process([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/ypomna', ...$words], null, ['RESOLVER_DSN' => $resolver]);
    }
}
