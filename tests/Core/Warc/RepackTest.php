<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Warc;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Warc\Repack;
use Ypomna\Core\Warc\RollingFile;
use Ypomna\Core\Warc\WarcCheck;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\WarcBuilder;

final class RepackTest extends TestCase
{
    public function testWhateverAFileHoldsWhatIsRepackedIsSoundOrRefused(): void
    {
        $folder = new Folder();
        $members = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', str_repeat('ab', 200),
        )->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', '<p>b')->bytes();
        $plain = implode(
            '',
            array_map(
                static fn (string $member): string => (string) gzdecode("\x1f\x8b\x08".$member),
                \array_slice(explode("\x1f\x8b\x08", $members), 1),
            ),
        );
        mt_srand(5);
        $given = $refused = 0;
        for ($n = 0; $n < 300; ++$n) {
            $bytes = [$members, $plain, (string) gzencode($plain)][$n % 3];
            for ($flips = $n < 3 ? 0 : mt_rand(1, 3); $flips > 0; --$flips) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            $path = $folder->file('mutant', $bytes);
            foreach (WarcReader::open($path)->records() as $record) {
                foreach ([
                    static fn (): \Generator => Repack::record($path, $record->offset), static fn (): \Generator => Repack::anew($record),
                ] as $way) {
                    try {
                        $member = implode('', iterator_to_array($way(), false));
                    } catch (WarcError) {
                        ++$refused;
                        continue;
                    }
                    ++$given;
                    $text = (string) gzdecode($member);
                    self::assertTrue(str_starts_with($text, $record->head), 'Mutant '.$n);
                    self::assertStringEndsWith("\r\n\r\n", $text);
                    if (null !== $record->header->contentLength()) {
                        self::assertSame($record->header->contentLength(), \strlen($text) - \strlen($record->head) - 4, 'Mutant '.$n);
                    }
                }
            }
        }
        self::assertGreaterThan(500, $given);
        self::assertGreaterThan(50, $refused);
    }

    public function testAFileIsEndedWhereTheNextGroupWouldMakeItTooLarge(): void
    {
        $folder = new Folder();
        $group = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', random_bytes(3_000))->bytes();
        $write = static function () use ($folder, $group): array {
            $out = new RollingFile($folder->path, 'x', 10_000, 'Ypomna', new \DateTimeImmutable('2024-11-03T10:00:00Z'), 'a test');
            for ($n = 0; $n < 5; ++$n) {
                $out->group(\strlen($group));
                $out->add([substr($group, 0, 100), substr($group, 100)]);
            }

            return $out->close();
        };
        $files = $write();
        self::assertSame(['x-00001.warc.gz', 'x-00002.warc.gz', 'x-00003.warc.gz'], array_column($files, 'name'));
        foreach ($files as $file) {
            $path = $folder->path.'/'.$file['name'];
            self::assertSame([filesize($path), hash_file('sha256', $path)], [$file['bytes'], $file['sha256']]);
            self::assertLessThanOrEqual(10_000, $file['bytes']);
            self::assertTrue(WarcCheck::run($path)->valid);
            self::assertSame('warcinfo', WarcReader::at($path, 0)->header->type());
            unlink($path);
        }
        self::assertSame($files, $write(), 'The same records give the same bytes.');
        $this->expectExceptionMessage('cannot be made');
        $write();
    }
}
