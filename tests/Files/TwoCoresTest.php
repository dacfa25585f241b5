<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\CoversClass;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Exchange\CheckOnTwoCores;
use Ypomna\App\Shared\SideProcess;
use Ypomna\Core\Warc\WarcCheck;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\WarcBuilder;

#[CoversClass(CheckOnTwoCores::class)]
#[CoversClass(SideProcess::class)]
final class TwoCoresTest extends TestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function files(): iterable
    {
        $builder = new WarcBuilder();
        for ($n = 0; $n < 60; ++$n) {
            $builder->exchange(
                'http://lantern.test/'.$n, '2024-11-03T10:00:00Z', bin2hex(hash('sha512', (string) $n, true)).str_repeat((string) $n, 50),
            );
        }
        $sound = $builder->bytes();
        yield 'sound' => [$sound];
        yield 'one member around all' => [(string) gzencode(implode('', array_map(gzdecode(...), self::members($sound))))];
        yield 'ends early' => [substr($sound, 0, -1_000)];
        yield 'damaged near the end' => [substr_replace($sound, str_repeat('x', 700), \strlen($sound) - 3_000, 700)];
        yield 'rubbish in the middle' => [substr_replace($sound, random_bytes(5_000), intdiv(\strlen($sound), 2), 0)];
        yield 'several records in a member, twice' => [
            $sound.gzencode(implode('', array_map(gzdecode(...), \array_slice(self::members($sound), 0, 3)))).$sound
                .gzencode(implode('', array_map(gzdecode(...), \array_slice(self::members($sound), 0, 3)))),
        ];
        // What looks like the beginning of a record lies in the block of another.
        $nested = new WarcBuilder('b');
        for ($n = 0; $n < 8; ++$n) {
            $nested->exchange('http://lantern.test/archive'.$n, '2024-11-03T10:00:00Z', $sound, 'application/warc');
        }
        yield 'files within a file' => [$nested->bytes()];
        mt_srand(11);
        for ($n = 0; $n < 40; ++$n) {
            $bytes = $sound;
            for ($flips = mt_rand(1, 5); $flips > 0; --$flips) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            yield 'mutant '.$n => [$bytes];
        }
    }

    #[DataProvider('files')]
    public function testTwoFindWhatOneFinds(string $bytes): void
    {
        $folder = new Folder();
        $path = $folder->file('file.warc.gz', $bytes);
        self::assertEquals(WarcCheck::run($path)->toArray(), CheckOnTwoCores::run($path, 2_000)->toArray());
    }

    public function testWhatTheOtherProcessSaysIsHeardInOrder(): void
    {
        $other = SideProcess::start(static function (\Closure $say): void {
            foreach (['', 'a', str_repeat('long ', 300_000)] as $message) {
                $say($message);
            }
        });
        self::assertNotNull($other);
        self::assertSame('', $other->next());
        self::assertSame('a', $other->next());
        self::assertSame(str_repeat('long ', 300_000), $other->next());
        self::assertNull($other->next());
        $other->stop();
        $other->stop();
    }

    public function testAnotherProcessThatFailsOrIsStoppedSaysNothingMore(): void
    {
        $failing = SideProcess::start(static function (\Closure $say): void {
            $say('once');
            throw new \RuntimeException('and no more');
        });
        self::assertSame('once', $failing?->next());
        self::assertNull($failing->next());
        $endless = SideProcess::start(static function (\Closure $say): void {
            for ($n = 0; $n < 1_000_000; ++$n) {
                $say(str_repeat('x', 100_000));
            }
        });
        self::assertSame(100_000, \strlen($endless?->next() ?? ''));
        $endless->stop();
        do {
            // The one that failed has ended by itself.
            $ended = pcntl_waitpid(-1, $status, \WNOHANG);
        } while ($ended > 0);
        self::assertSame(-1, $ended, 'No process is left behind.');
    }

    /**
     * @return list<string>
     */
    private static function members(string $file): array
    {
        return array_map(static fn (string $member): string => "\x1f\x8b\x08".$member, \array_slice(explode("\x1f\x8b\x08", $file), 1));
    }
}
