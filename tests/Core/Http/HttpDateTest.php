<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\HttpDate;

final class HttpDateTest extends TestCase
{
    #[TestWith(['Sun, 06 Nov 1994 08:49:37 GMT', '1994-11-06T08:49:37Z'])]
    #[TestWith(['Sunday, 06-Nov-94 08:49:37 GMT', '1994-11-06T08:49:37Z'])]
    #[TestWith(['Sun Nov  6 08:49:37 1994', '1994-11-06T08:49:37Z'])]
    public function testTheThreeFormsAreRead(string $text, string $moment): void
    {
        self::assertSame($moment, HttpDate::parse($text)?->format('Y-m-d\TH:i:s\Z'));
    }

    #[TestWith([''])]
    #[TestWith(['soon'])]
    #[TestWith(['1994-11-06T08:49:37Z'])]
    #[TestWith(['Sun, 31 Feb 2024 08:49:37 GMT'])]
    #[TestWith(['0'])]
    public function testAnythingElseIsNone(string $text): void
    {
        self::assertNull(HttpDate::parse($text));
    }

    public function testWhatIsWrittenIsRead(): void
    {
        $moment = new \DateTimeImmutable('2024-11-03T12:00:00+02:00');
        self::assertSame('Sun, 03 Nov 2024 10:00:00 GMT', HttpDate::write($moment));
        self::assertEquals($moment, HttpDate::parse(HttpDate::write($moment)));
    }
}
