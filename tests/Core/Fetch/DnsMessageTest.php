<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\DnsMessage;

final class DnsMessageTest extends TestCase
{
    public function testAQuestionAndItsAnswerAreUnderstood(): void
    {
        $query = DnsMessage::parse(DnsMessage::query(4711, 'cdn.lantern.test', 'A'));
        self::assertNotNull($query);
        self::assertSame(
            [4711, 'cdn.lantern.test', DnsMessage::TYPES['A'], false], [$query->id, $query->name, $query->type, $query->isAnswer],
        );
        $answer = DnsMessage::parse(DnsMessage::answer($query, DnsMessage::NO_ERROR, ['192.0.2.7', '192.0.2.8'], 60));
        self::assertNotNull($answer);
        self::assertTrue($answer->isAnswer);
        self::assertSame(['192.0.2.7', '192.0.2.8'], array_column($answer->records, 'data'));
        self::assertSame(60, $answer->records[0]['ttl']);
    }

    public function testCompressedNamesAndAliases(): void
    {
        $bytes = "\x12\x34\x81\x80\0\1\0\2\0\0\0\0"
            ."\3www\7lantern\4test\0\0\1\0\1\xc0\x0c\0\5\0\1\0\0\0\x3c\0\2\xc0\x10\xc0\x10\0\1\0\1\0\0\0\x3c\0\4\xc0\0\2\7";
        $message = DnsMessage::parse($bytes);
        self::assertNotNull($message);
        self::assertSame(
            [['CNAME', 'lantern.test'], ['A', '192.0.2.7']],
            array_map(static fn (array $r): array => [$r['type'], $r['data']], $message->records),
        );
    }

    public function testNoMutationBringsItDown(): void
    {
        mt_srand(5);
        $query = DnsMessage::parse(DnsMessage::query(1, 'a.b.c.lantern.test', 'A'));
        self::assertNotNull($query);
        $seed = DnsMessage::answer($query, DnsMessage::NO_ERROR, ['192.0.2.7'], 60);
        $read = 0;
        for ($n = 0; $n < 3_000; ++$n) {
            $bytes = $seed;
            for ($times = mt_rand(1, 5); $times > 0; --$times) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            $read += null === DnsMessage::parse(substr($bytes, 0, mt_rand(0, \strlen($bytes)))) ? 0 : 1;
        }
        // A name that points at itself must not be followed for ever.
        self::assertNull(DnsMessage::parse("\0\1\x81\x80\0\1\0\0\0\0\0\0\xc0\x0c\0\1\0\1"));
        self::assertGreaterThan(0, $read);
    }
}
