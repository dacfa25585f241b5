<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\TrapPages;
use Ypomna\Tests\Support\TrapRun;

/** Pages full of traps, kept by the capture command and judged by the files that it writes. */
final class CompletenessTest extends TestCase
{
    private static TrapRun $run;

    public static function setUpBeforeClass(): void
    {
        self::$run = new TrapRun(getenv('YPOMNA_TEST_TMP').'/pages');
    }

    public static function tearDownAfterClass(): void
    {
        self::$run->stop();
    }

    public function testPagesAreKeptInABrowserAndCalledWhatTheyAre(): void
    {
        self::assertSame([], array_filter(self::$run->all(array_keys(TrapPages::pages()), 'rendered', 4)));
    }

    public function testPagesAreKeptWithoutABrowser(): void
    {
        self::assertSame([], array_filter(self::$run->all(array_keys(TrapPages::pages()), 'plain', 4)));
    }
}
