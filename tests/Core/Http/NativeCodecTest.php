<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\UnsupportedCoding;

final class NativeCodecTest extends TestCase
{
    /** “Petrel Dawn was held in port. ” forty times, packed by other programs. */
    private const PACKED = [
        'br' => 'G68E+B2JsY2KfXNII7+GCitjk3d0RA1S5iYnBWnIsGwBIpOC3knBorrymQA=',
        'zstd' => 'KLUv/WSwAzUBAPBQZXRyZWwgRGF3biB3YXMgaGVsZCBpbiBwb3J0LiABAD4SfuUEjIrVng==',
    ];

    #[DataProvider('codings')]
    public function testBodiesAreUnpackedInPiecesOfAnySize(string $coding): void
    {
        $packed = self::packed($coding);
        foreach ([1, 7, 100_000] as $size) {
            self::assertSame(
                str_repeat('Petrel Dawn was held in port. ', 40), Body::collect(Body::decode(str_split($packed, $size), [$coding]), 10_000),
            );
        }
    }

    #[DataProvider('codings')]
    public function testDamageEndsTheBodyAndNothingElse(string $coding): void
    {
        mt_srand(4);
        $packed = self::packed($coding);
        for ($n = 0; $n < 300; ++$n) {
            $bytes = $packed;
            $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            $length = 0;
            foreach (Body::decode([substr($bytes, 0, mt_rand(0, \strlen($bytes)))], [$coding]) as $piece) {
                $length += \strlen($piece);
                if ($length > 10_000_000) {
                    break;
                }
            }
            self::assertGreaterThanOrEqual(0, $length);
        }
        self::assertSame('', Body::collect(Body::decode(['', 'no such coding'], [$coding]), 100));
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function codings(): iterable
    {
        yield 'Brotli' => ['br'];
        yield 'Zstandard' => ['zstd'];
    }

    public function testCodingsOnTopOfEachOther(): void
    {
        self::assertSame('text', Body::collect(Body::decode([(string) gzencode((string) gzcompress('text'))], ['deflate', 'gzip']), 100));
        $this->expectException(UnsupportedCoding::class);
        Body::decode(['x'], ['compress']);
    }

    private static function packed(string $coding): string
    {
        return (string) base64_decode(self::PACKED[$coding], true);
    }
}
