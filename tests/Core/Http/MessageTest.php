<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\ChunkedDecoder;
use Ypomna\Core\Http\Fields;
use Ypomna\Core\Http\Framing;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;

final class MessageTest extends TestCase
{
    public function testReadsAnAnswersHead(): void
    {
        $head = MessageHead::parse(
            "HTTP/1.1 200\r\nContent-TYPE: Text/HTML; charset=x\r\nX-Long: a\r\n  b\r\nno colon\r\nSet-Cookie: a=1\r\nset-cookie:"
                ." b=2\r\n\r\n",
        );
        self::assertSame(200, $head->status);
        self::assertSame('text/html', $head->mime());
        self::assertSame('a b', $head->fields->get('x-long'));
        self::assertSame(['a=1', 'b=2'], $head->fields->all('Set-Cookie'));
    }

    public function testReadsARequestsHead(): void
    {
        $head = MessageHead::parse("post /a b?c HTTP/1.1\nHost: lantern.test\n");
        self::assertSame('POST', $head->method);
        self::assertSame('/a b?c', $head->target);
        self::assertNull($head->status);
    }

    public function testRefusesWhatIsNoMessage(): void
    {
        $this->expectException(MalformedMessage::class);
        MessageHead::parse("SSH-2.0-quay\r\n");
    }

    #[DataProvider('framings')]
    public function testKnowsWhereABodyEnds(string $head, Framing $expected, string $method = 'GET'): void
    {
        self::assertSame($expected, MessageHead::parse($head)->framing($method));
    }

    /**
     * @return iterable<string, array{string, Framing, 2?: string}>
     */
    public static function framings(): iterable
    {
        yield 'length' => ["HTTP/1.1 200 OK\r\nContent-Length: 3", Framing::Length];
        yield 'chunked wins' => ["HTTP/1.1 200 OK\r\nContent-Length: 3\r\nTransfer-Encoding: gzip, chunked", Framing::Chunked];
        yield 'until the end' => ["HTTP/1.1 200 OK\r\nX: y", Framing::UntilClose];
        yield 'not modified' => ["HTTP/1.1 304 Not Modified\r\nContent-Length: 3", Framing::None];
        yield 'head' => ["HTTP/1.1 200 OK\r\nContent-Length: 3", Framing::None, 'HEAD'];
        yield 'request without body' => ["GET / HTTP/1.1\r\nHost: a", Framing::None];
        yield 'length that is none' => ["HTTP/1.1 200 OK\r\nContent-Length: -3", Framing::UntilClose];
    }

    public function testTakesChunkedCodingOffHoweverItIsCut(): void
    {
        $coded = "5;name=\"x\"\r\nSalt \r\n0005\nmarsh\n3\r\n!\r\n\r\n0\r\nTrailer: y\r\n\r\nNEXT";
        foreach ([1, 2, 3, 7, 1000] as $size) {
            $decoder = new ChunkedDecoder();
            $text = '';
            foreach (str_split($coded, $size) as $piece) {
                $text .= $decoder->push($piece);
            }
            self::assertSame("Salt marsh!\r\n", $text);
            self::assertTrue($decoder->isDone());
            self::assertSame(4, $decoder->surplus);
        }
    }

    #[DataProvider('brokenChunks')]
    public function testSaysWhenChunksAreBroken(string $coded): void
    {
        $this->expectException(MalformedMessage::class);
        (new ChunkedDecoder())->push($coded);
    }

    /**
     * @return iterable<string, list<string>>
     */
    public static function brokenChunks(): iterable
    {
        yield 'no size' => ["xyz\r\n"];
        yield 'longer than said' => ["1\r\nab\r\n"];
        yield 'a line without end' => [str_repeat('1', 20_000)];
        yield 'a size beyond all measure' => ["ffffffffffffffffff\r\n"];
    }

    public function testABrokenCodingIsPassedOnAsItStands(): void
    {
        self::assertSame('ab', Body::collect(Body::unchunk(["2\r\nab\r\n"]), 100));
        self::assertSame('plain text', Body::collect(Body::unchunk(['plain text']), 100));
    }

    #[DataProvider('codings')]
    public function testTakesContentCodingsOff(string $coded, string $coding): void
    {
        foreach ([1, 5, 4096] as $size) {
            self::assertSame('Petrel Dawn', Body::collect(Body::decode(str_split($coded, $size), [$coding]), 100));
        }
    }

    /**
     * @return iterable<string, list<string>>
     */
    public static function codings(): iterable
    {
        yield 'gzip' => [(string) gzencode('Petrel Dawn'), 'gzip'];
        yield 'deflate with wrapper' => [(string) gzcompress('Petrel Dawn'), 'deflate'];
        yield 'deflate without' => [(string) gzdeflate('Petrel Dawn'), 'deflate'];
        yield 'none' => ['Petrel Dawn', 'identity'];
    }

    public function testCodingsComeOffInTheReverseOrder(): void
    {
        $coded = (string) gzencode((string) gzcompress('Petrel Dawn'));
        self::assertSame('Petrel Dawn', Body::collect(Body::decode([$coded], ['deflate', 'gzip']), 100));
    }

    public function testAnUnknownCodingIsNamed(): void
    {
        $this->expectException(UnsupportedCoding::class);
        $this->expectExceptionMessage('“rot13”');
        Body::decode(['x'], ['rot13']);
    }

    public function testABombIsBounded(): void
    {
        $bomb = (string) gzencode(str_repeat("\0", 50_000_000), 9);
        $before = memory_get_peak_usage();
        try {
            Body::collect(Body::decode([$bomb], ['gzip']), 1_000_000);
            self::fail('The limit was not kept.');
        } catch (TooLarge $e) {
            self::assertSame(1_000_000, $e->limit);
        }
        self::assertLessThan($before + 16_000_000, memory_get_peak_usage());
    }

    /** @param list<string> $codings */
    #[DataProvider('bombs')]
    public function testAFewBytesDoNotBecomeAnyNumber(string $bomb, array $codings): void
    {
        $before = memory_get_peak_usage();
        $bytes = 0;
        try {
            foreach (Body::decode([$bomb], $codings) as $piece) {
                $bytes += \strlen($piece);
            }
            self::fail('The limit was not kept.');
        } catch (TooLarge $e) {
            self::assertSame($bytes, $e->limit);
        }
        // 32 MiB may come of anything; beyond, 200 times what was packed.
        self::assertLessThanOrEqual(max(33_554_432, 200 * \strlen($bomb)), $bytes);
        self::assertGreaterThan(16_777_216, $bytes);
        self::assertLessThan($before + 16_000_000, memory_get_peak_usage());
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function bombs(): iterable
    {
        $zeros = (string) gzencode(str_repeat("\0", 60_000_000), 9);
        yield 'once' => [$zeros, ['gzip']];
        yield 'twice' => [(string) gzencode($zeros, 9), ['gzip', 'gzip']];
        yield 'twice, each in its own way' => [
            (string) gzcompress((string) gzencode(str_repeat("\0", 200_000_000), 9), 9), ['gzip', 'identity', 'deflate'],
        ];
    }

    public function testWhatIsPackedWellAndIsNoBombComesWhole(): void
    {
        $text = implode(
            '',
            array_map(
                static fn (int $n): string => "<tr><td class=\"tide\">{$n}</td><td class=\"tide\">00:00</td></tr>", range(1, 700_000),
            ),
        );
        $bytes = 0;
        foreach (Body::decode(str_split((string) gzencode($text, 9), 8_192), ['gzip']) as $piece) {
            $bytes += \strlen($piece);
        }
        self::assertSame(\strlen($text), $bytes);
    }

    public function testMoreCodingsThanAnybodyAppliesAreNotTakenOff(): void
    {
        $this->expectException(UnsupportedCoding::class);
        Body::decode([(string) gzencode((string) gzencode((string) gzencode('x')))], ['gzip', 'gzip', 'gzip']);
    }

    #[DataProvider('charsets')]
    public function testFindsTheCharset(string $bytes, ?string $contentType, string $expected): void
    {
        self::assertSame($expected, Charset::detect($bytes, $contentType));
    }

    /**
     * @return iterable<string, array{string, string|null, string}>
     */
    public static function charsets(): iterable
    {
        yield 'field' => ['<meta charset=utf-8>', 'text/html; charset=ISO-8859-1', 'windows-1252'];
        yield 'mark before field' => ["\xEF\xBB\xBFa", 'text/html; charset=windows-1253', 'utf-8'];
        yield 'meta' => ['<html><meta http-equiv=content-type content="text/html; charset=windows-1253">', null, 'windows-1253'];
        yield 'meta that lies about utf-16' => ['<meta charset="utf-16">', null, 'utf-8'];
        yield 'xml' => ['<?xml version="1.0" encoding="ISO-8859-7"?>', null, 'iso-8859-7'];
        yield 'looks like utf-8' => ['Δύναμη', null, 'utf-8'];
        yield 'looks like Shift_JIS' => [mb_convert_encoding('これはフェリーです', 'SJIS-win', 'UTF-8'), null, 'shift_jis'];
        yield 'nothing helps' => ["caf\xE9", 'text/html; charset=no-such-thing', 'windows-1252'];
    }

    public function testTextComesOutInUtf8(): void
    {
        self::assertSame('Αλυκή', Charset::toUtf8("\xC1\xEB\xF5\xEA\xDE", 'windows-1253'));
        self::assertSame("é\u{FFFD}", Charset::toUtf8("\xC3\xA9\xFF", 'utf-8'));
    }

    public function testTokensOfAListField(): void
    {
        self::assertSame(['gzip', 'chunked'], (new Fields([['TE', 'GZip ,'], ['te', ' chunked']]))->tokens('Te'));
    }
}
