<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\MimeSniffing;

final class MimeSniffingTest extends TestCase
{
    #[DataProvider('bodies')]
    public function testTheFirstBytesTellWhatABodyIs(string $mime, string $bytes): void
    {
        self::assertSame($mime, MimeSniffing::of($bytes));
        self::assertSame($mime, MimeSniffing::of($bytes.str_repeat('x', 5_000)));
    }

    /** @return iterable<array{string, string}> */
    public static function bodies(): iterable
    {
        yield ['text/html', "\n\t <!DOCTYPE HTML>"];
        yield ['text/html', '<HTML lang=en>'];
        yield ['text/html', '<p>'];
        yield ['text/html', '<a href=x>'];
        yield ['text/html', '<!-- a remark -->'];
        yield ['text/plain', '<para>'];
        yield ['application/octet-stream', "\v<p>"];
        yield ['text/xml', ' <?xml version="1.0"?>'];
        yield ['application/pdf', '%PDF-1.7'];
        yield ['image/png', "\x89PNG\r\n\x1A\n"];
        yield ['image/webp', 'RIFF1234WEBPVP8 '];
        yield ['application/zip', "PK\x03\x04"];
        yield ['text/plain', "\xEF\xBB\xBFtext"];
        yield ['text/plain', 'Tide at 06:12'];
        yield ['application/octet-stream', "Tide\0at"];
        yield ['text/plain', "\xFF\xFE\x41\0"];
    }

    public function testNothingIsPlainText(): void
    {
        self::assertSame('text/plain', MimeSniffing::of(''));
    }
}
