<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\AddressList;
use Ypomna\Core\Lz4Block;

final class Lz4BlockTest extends TestCase
{
    /** Literals, a match that reaches into what it makes, and literals to the end: token, further length, literals, how far back. */
    private const BLOCK = "\xfb\x00".'{"url":"http://'."\x02\x00\x80".'.test/"}';

    public function testWhatIsPackedIsRead(): void
    {
        $text = '{"url":"http:////'.str_repeat('//', 6).'/';
        self::assertSame($text.'.test/"}', Lz4Block::ofSession(self::packed(self::BLOCK, 38), 1_000));
        $literal = '{"entries":[{"url":"http://lantern.test/a","title":"A"}]}';
        $file = self::packed(\chr(0xF0).\chr(\strlen($literal) - 15).$literal, \strlen($literal));
        self::assertSame($literal, Lz4Block::ofSession($file, 1_000));
        self::assertSame('http://lantern.test/a', AddressList::read($file)->addresses[0]->url ?? null);
        $long = str_repeat('x', 600);
        self::assertSame($long, Lz4Block::ofSession(self::packed("\xf0\xff\xff\x4b".$long, 600), 600), 'A length of several bytes.');
        self::assertSame($long, Lz4Block::ofSession(self::packed("\x1fx\x01\x00\xff\xff\x46\x00", 600), 600), 'One byte again and again.');
    }

    public function testWhatIsDamagedOrTooLargeIsNone(): void
    {
        foreach (['', 'mozLz40', "mozLz40\0\1\0\0", self::packed("\x10a", 2), self::packed("\x1fa\x05\x00", 20),
            self::packed("\x1fa\x00\x00", 20),
            self::packed("\xf0\xff\xff", 600), self::packed("\x1fx\x01\x00\xff\xff\x46\x00", 599)] as $file) {
            self::assertNull(Lz4Block::ofSession($file, 1_000), bin2hex($file));
        }
        self::assertNull(Lz4Block::ofSession(self::packed("\x1fx\x01\x00\xff\xff\x46\x00", 600), 599));
        mt_srand(4);
        for ($i = 0; $i < 3_000; ++$i) {
            $file = self::packed(self::BLOCK, 38);
            for ($n = mt_rand(1, 6); $n > 0; --$n) {
                $file[mt_rand(8, \strlen($file) - 1)] = \chr(mt_rand(0, 255));
            }
            $text = Lz4Block::ofSession($file, 5_000);
            self::assertLessThanOrEqual(5_000, \strlen((string) $text));
        }
    }

    private static function packed(string $block, int $size): string
    {
        return "mozLz40\0".pack('V', $size).$block;
    }
}
