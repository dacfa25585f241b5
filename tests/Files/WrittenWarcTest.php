<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Warc\WarcCheck;

/** The files that the capturer has written, in the eyes of a reader that is none of ours. */
final class WrittenWarcTest extends TestCase
{
    public function testAnIndependentReaderFindsNothingWrong(): void
    {
        $files = glob(\dirname(__DIR__, 2).'/demo/*.warc.gz');
        self::assertNotFalse($files);
        self::assertGreaterThan(40, \count($files));
        foreach ($files as $file) {
            exec('python3 '.escapeshellarg(__DIR__.'/independent.py').' '.escapeshellarg($file).' 2>&1', $out, $status);
            self::assertSame(0, $status, basename($file).': '.implode("\n", $out));
            $report = WarcCheck::run($file);
            self::assertSame([true, []], [$report->valid, $report->findings]);
            self::assertStringContainsString($report->records.' records', implode("\n", $out));
            $out = [];
        }
    }
}
