<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\WebSocket\MessageKind;
use Ypomna\Core\Http\WebSocket\MessageReader;
use Ypomna\Core\Http\WebSocket\SocketMessage;

final class MessageReaderTest extends TestCase
{
    /**
     * @param list<array{MessageKind, string, int|null}> $wanted
     */
    #[DataProvider('streams')]
    public function testMessagesAreReadFromPiecesOfAnySize(string $bytes, bool $byClient, bool $packs, array $wanted): void
    {
        foreach ([[$bytes], str_split($bytes), str_split($bytes, 3)] as $pieces) {
            $reader = new MessageReader($byClient, $packs);
            $found = [];
            foreach ($pieces as $piece) {
                array_push($found, ...$reader->push($piece));
            }
            self::assertSame($wanted, array_map(static fn (SocketMessage $one): array => [$one->kind, $one->data, $one->code], $found));
        }
    }

    /**
     * The examples of RFC 6455, section 5.7, and RFC 7692, section 7.2.3, and others.
     *
     * @return iterable<string, array{string, bool, bool, list<array{MessageKind, string, int|null}>}>
     */
    public static function streams(): iterable
    {
        $hello = [MessageKind::Text, 'Hello', null];
        yield 'unmasked text' => ["\x81\x05Hello", false, false, [$hello]];
        yield 'masked text' => ["\x81\x85\x37\xfa\x21\x3d\x7f\x9f\x4d\x51\x58", true, false, [$hello]];
        yield 'in two frames' => ["\x01\x03Hel\x80\x02lo", false, false, [$hello]];
        yield 'a ping in between' => ["\x01\x03Hel\x89\x05Hello\x80\x02lo", false, false, [$hello]];
        yield '256 bytes' => ["\x82\x7e\x01\x00".str_repeat('b', 256), false, false, [[MessageKind::Binary, str_repeat('b', 256), null]]];
        yield '64 kB' => [
            "\x82\x7f\x00\x00\x00\x00\x00\x01\x00\x00".str_repeat('b', 65_536), false, false,
            [[MessageKind::Binary, str_repeat('b', 65_536), null]],
        ];
        yield 'nothing' => ["\x81\x00\x82\x00", false, false, [[MessageKind::Text, '', null], [MessageKind::Binary, '', null]]];
        yield 'closes' => [
            "\x88\x00\x88\x02\x03\xe8\x88\x05\x0f\xa1bye", false, false,
            [[MessageKind::Close, '', null], [MessageKind::Close, '', 1_000], [MessageKind::Close, 'bye', 4_001]],
        ];
        yield 'packed' => ["\xc1\x07\xf2\x48\xcd\xc9\xc9\x07\x00", false, true, [$hello]];
        yield 'packed in two frames' => ["\x41\x03\xf2\x48\xcd\x80\x04\xc9\xc9\x07\x00", false, true, [$hello]];
        yield 'packed, with what came before' => [
            "\xc1\x07\xf2\x48\xcd\xc9\xc9\x07\x00\xc1\x05\xf2\x00\x11\x00\x00", false, true, [$hello, $hello],
        ];
        yield 'packed without packing' => ["\xc1\x0b\x00\x05\x00\xfa\xffHello\x00", false, true, [$hello]];
        yield 'packed in two blocks' => ["\xc1\x0d\xf2\x48\x05\x00\x00\x00\xff\xff\xca\xc9\xc9\x07\x00", false, true, [$hello]];
        yield 'not packed, though it might be' => ["\x81\x05Hello", false, true, [$hello]];
        yield 'half' => ["\x81\x05Hel", false, false, []];
    }

    #[DataProvider('broken')]
    public function testWhatBreaksTheProtocolIsNotGuessedAt(string $bytes, bool $byClient = false, bool $packs = false): void
    {
        $this->expectException(MalformedMessage::class);
        (new MessageReader($byClient, $packs))->push($bytes);
    }

    /**
     * @return iterable<string, array{0: string, 1?: bool, 2?: bool}>
     */
    public static function broken(): iterable
    {
        yield 'a client that does not mask' => ["\x81\x05Hello", true];
        yield 'a server that does' => ["\x81\x85\x37\xfa\x21\x3d\x7f\x9f\x4d\x51\x58"];
        yield 'packed, and nobody agreed' => ["\xc1\x07\xf2\x48\xcd\xc9\xc9\x07\x00"];
        yield 'another extension' => ["\xa1\x05Hello"];
        yield 'no such kind' => ["\x83\x05Hello"];
        yield 'no such control frame' => ["\x8b\x05Hello"];
        yield 'goes on with nothing' => ["\x80\x05Hello"];
        yield 'begins in between' => ["\x01\x03Hel\x81\x05Hello"];
        yield 'a ping in pieces' => ["\x09\x02Hi"];
        yield 'a long ping' => ["\x89\x7e\x00\xff".str_repeat('x', 255)];
        yield 'longer than anything' => ["\x82\x7f\xff\xff\xff\xff\xff\xff\xff\xff"];
        yield 'longer than is read' => ["\x82\x7f\x00\x00\x00\x00\x10\x00\x00\x00"];
        yield 'cannot be unpacked' => ["\xc1\x03\xff\xff\xff", false, true];
    }

    public function testAMessageThatSwellsIsGivenUp(): void
    {
        $packed = substr((string) deflate_add(self::deflater(), str_repeat('x', 2 * MessageReader::LONGEST), \ZLIB_SYNC_FLUSH), 0, -4);
        $reader = new MessageReader(false, true);
        $before = memory_get_usage();
        try {
            $reader->push("\xc1\x7e".pack('n', \strlen($packed)).$packed);
            self::fail('It was read.');
        } catch (MalformedMessage $e) {
            self::assertStringContainsString('longer than', $e->getMessage());
        }
        self::assertLessThan(4 * MessageReader::LONGEST, memory_get_usage() - $before);
    }

    public function testManyFramesWithoutEndAreGivenUp(): void
    {
        $reader = new MessageReader(false, false);
        $reader->push("\x02\x00");
        $this->expectException(MalformedMessage::class);
        for ($n = 0; $n < 1_000; ++$n) {
            $reader->push("\x00\x7e\xff\xff".str_repeat('x', 65_535));
        }
    }

    public function testItSurvivesAnything(): void
    {
        mt_srand(11);
        $good = "\x01\x03Hel\x89\x05Hello\x80\x02lo\xc1\x07\xf2\x48\xcd\xc9\xc9\x07\x00\x82\x7e\x01\x00".str_repeat('b', 256)
            ."\x88\x05\x0f\xa1bye";
        $read = 0;
        for ($n = 0; $n < 3_000; ++$n) {
            $bytes = $good;
            for ($k = mt_rand(1, 4); $k > 0; --$k) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            $reader = new MessageReader(false, true);
            try {
                foreach (str_split($bytes, mt_rand(1, 60)) as $piece) {
                    $read += \count($reader->push($piece));
                }
            } catch (MalformedMessage) {
            }
        }
        self::assertGreaterThan(3_000, $read);
    }

    private static function deflater(): \DeflateContext
    {
        $made = deflate_init(\ZLIB_ENCODING_RAW);
        self::assertNotFalse($made);

        return $made;
    }
}
