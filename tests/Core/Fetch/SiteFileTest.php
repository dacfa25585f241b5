<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\ExchangeRecords;
use Ypomna\Core\Fetch\SiteFile;
use Ypomna\Core\Warc\WarcCheck;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Tests\Support\Folder;

final class SiteFileTest extends TestCase
{
    public function testItIsLeftGoneOnWithAndCutBack(): void
    {
        $folder = new Folder();
        $path = $folder->path.'/site.warc.gz';
        $at = new \DateTimeImmutable('2024-11-16T09:00:00Z');
        $out = fopen($path, 'w+');
        self::assertNotFalse($out);
        $file = SiteFile::begin(
            $out, 'urn:uuid:info', 'site.warc.gz', $at, ['operator' => "Ilse\r\nx: y", 'pages' => 'marked'], self::ids(...), null,
        );
        [$page, $offset, $again] = $file->add($this->exchange($folder, 1, 'http://a.test/', str_repeat('A page. ', 300)), true);
        $file->about($page, $this->exchange($folder, 2, 'http://a.test/', ''), ['title' => 'A']);
        self::assertFalse($again);
        $good = $file->bytes();
        $file->add($this->exchange($folder, 3, 'http://a.test/lost', 'lost'), true);
        // Whoever wrote it was killed: what is behind the good point is cut off, and it goes on.
        ftruncate($out, max(0, $good));
        fclose($out);
        $out = fopen($path, 'c+');
        self::assertNotFalse($out);
        fseek($out, 0, \SEEK_END);
        $file = SiteFile::goOn($out, 'urn:uuid:info', $good, self::ids(...), null);
        [, $first] = $file->add($this->exchange($folder, 4, 'http://a.test/p.png', str_repeat('picture ', 400)), false);
        [, , $again] = $file->add($this->exchange($folder, 5, 'http://a.test/q.png', str_repeat('picture ', 400)), false);
        self::assertTrue($again, 'The same bytes are referred to.');
        $behind = $file->bytes();
        $file->add($this->exchange($folder, 6, 'http://a.test/broken', 'broken'), true);
        ftruncate($out, max(0, $behind));
        fseek($out, 0, \SEEK_END);
        $file->backTo($behind);
        self::assertSame($behind, $file->bytes());
        [, $last] = $file->add($this->exchange($folder, 7, 'http://a.test/last', 'last'), true);
        fclose($out);
        $marked = [];
        foreach (WarcReader::open($path)->records() as $record) {
            if ('page' === $record->header->fields->get(ExchangeRecords::PAGE)) {
                $marked[$record->offset] = $record->header->uri();
            }
        }
        self::assertSame([$offset => 'http://a.test/', $last => 'http://a.test/last'], $marked);
        self::assertSame('http://a.test/p.png', WarcReader::at($path, $first)->header->uri());
        self::assertSame([], WarcCheck::run($path)->findings);
        self::assertStringNotContainsString("\r\nx: y", (string) file_get_contents('compress.zlib://'.$path));
    }

    private static function ids(): string
    {
        /** @var int $n */
        static $n = 0;

        return \sprintf('urn:uuid:00000000-0000-4000-8000-%012d', ++$n);
    }

    private function exchange(Folder $folder, int $number, string $url, string $body): Exchange
    {
        $exchange = new Exchange(
            $number,
            $url,
            'GET',
            new \DateTimeImmutable('2024-11-16T09:00:00Z'),
            $folder->file($number.'.request', "GET / HTTP/1.1\r\nHost: a.test\r\n\r\n"),
            $folder->file($number.'.response', "HTTP/1.1 200 OK\r\nContent-Length: ".\strlen($body)."\r\n\r\n".$body),
        );
        $exchange->status = 200;
        $exchange->requestBytes = (int) filesize($exchange->requestPath);
        $exchange->responseBytes = (int) filesize($exchange->responsePath);

        return $exchange;
    }
}
