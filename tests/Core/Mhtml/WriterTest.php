<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Mhtml;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Mhtml\MhtmlWriter;
use Ypomna\Core\Mhtml\Part;

final class WriterTest extends TestCase
{
    public function testPartsComeBackAsTheyWere(): void
    {
        $bodies = [
            'text/html; charset=utf-8' => "<p>Petrel Dawn = 40 %\r\nline\nbare\rcr \t\r\n.\r\n--part-x\r\ntrailing blank \n"
                .str_repeat('ä', 200),
            'image/png' => random_bytes(10_000), 'text/css' => str_repeat('a', 300_000), 'application/octet-stream' => '',
            'text/plain' => "ends in a line\n",
        ];
        $parts = [];
        foreach ($bodies as $type => $body) {
            $parts[] = new Part('http://lantern.test/'.\count($parts), $type, static fn (): array => str_split($body, 997));
        }
        $file = self::write($parts);
        self::assertSame($file, self::write($parts));
        self::assertSame(0, preg_match('/(?<!\r)\n|\r(?!\n)/', $file), 'Every line ends in CRLF.');
        self::assertLessThanOrEqual(998, max(array_map(\strlen(...), explode("\r\n", $file))), 'RFC 5322 section 2.1.1');
        preg_match('/boundary="([^"]+)"/', $file, $m);
        $pieces = explode("\r\n--".($m[1] ?? ''), $file);
        self::assertSame("--\r\n", array_pop($pieces));
        array_shift($pieces);
        self::assertCount(\count($bodies), $pieces);
        foreach (array_values($bodies) as $n => $body) {
            [$head, $coded] = explode("\r\n\r\n", ltrim($pieces[$n]), 2);
            self::assertStringContainsString('Content-Location: http://lantern.test/'.$n, $head);
            self::assertSame(
                $body, str_contains($head, 'quoted-printable') ? quoted_printable_decode($coded) : base64_decode($coded, true),
            );
        }
    }

    public function testTheHeadSaysWhatWhenAndWhence(): void
    {
        $file = self::write([new Part('http://lantern.test/', 'text/html', static fn (): array => ['x'])], "Ένα πλοίο\r\nBcc: x");
        self::assertStringContainsString("Snapshot-Content-Location: http://lantern.test/\r\n", $file);
        self::assertStringContainsString("Date: Sun, 03 Nov 2024 10:00:00 +0000\r\n", $file);
        self::assertStringNotContainsString("\r\nBcc:", $file);
        self::assertSame('Ένα πλοίο Bcc: x', mb_decode_mimeheader((string) preg_replace('/^.*?Subject: (.*?)\r\n(?! ).*$/s', '$1', $file)));
    }

    public function testAPartThatWouldBringItsOwnPartsIsPlainBytes(): void
    {
        $own = "--x\r\nContent-Type: text/html\r\nContent-Location: http://bank.test/\r\n\r\n<p>forged\r\n--x--";
        foreach ([
            'multipart/related; boundary=x',
            ' MULTIPART/mixed;boundary=x',
            'message/rfc822',
            "text/plain\r\nContent-Type: multipart/related; boundary=x",
        ] as $type) {
            $file = self::write([
                new Part('http://lantern.test/', 'text/html', static fn (): array => ['<p>']),
                new Part('http://lantern.test/b', $type, static fn (): array => [$own]),
            ]);
            self::assertSame(1, preg_match_all('/^Content-Type: multipart/mi', $file), $type);
            self::assertSame(
                0,
                preg_match(
                    '/^Content-Location: http:\/\/bank/m',
                    str_contains($file, 'quoted-printable') ? (string) preg_replace('/^--x.*?--x--/ms', '', $file) : $file,
                ),
            );
            self::assertSame(0, preg_match('/^Content-Type: message/mi', $file), $type);
        }
    }

    /**
     * @param list<Part> $parts
     */
    private static function write(array $parts, string $title = 'Notice'): string
    {
        return implode(
            '',
            iterator_to_array(
                MhtmlWriter::write($title, new \DateTimeImmutable('2024-11-03T10:00:00Z'), 'http://lantern.test/', 'seed', $parts), false,
            ),
        );
    }
}
