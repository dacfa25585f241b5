<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Stack;
use Ypomna\Tests\Support\TestFolder;

/** The tests of the application empty their data folder; run by hand they must never find anybody else's. */
final class TestsRefuseTest extends TestCase
{
    /** @return array<string, array{list<string>, bool, string}> arguments, whether the folder is said to be the tests', and what is said */
    public static function carelessRuns(): array
    {
        return [
            'a file, and no folder named' => [['tests/App/CatalogueTest.php'], false, 'none was given'],
            'the suite, and no folder named' => [['--testsuite', 'application'], false, 'none was given'],
            'everything' => [[], false, 'none was given'],
            'an installation named as the folder' => [['tests/App/CatalogueTest.php'], true, 'was not made by a test run'],
        ];
    }

    /** @param list<string> $arguments */
    #[DataProvider('carelessRuns')]
    public function testTestsRunByHandTouchNoHoldings(array $arguments, bool $named, string $said): void
    {
        $data = new Folder();
        foreach (['store/2024', 'ledger', 'work'] as $folder) {
            mkdir($data->path.'/'.$folder, 0o755, true);
            file_put_contents($data->path.'/'.$folder.'/kept', 'evidence');
        }
        [$status, $output] = Stack::run(
            ['php', 'vendor/bin/phpunit', '--no-progress', ...$arguments],
            ['YPOMNA_DATA' => $data->path, 'YPOMNA_TEST_DATA' => $named ? $data->path : ''],
        );
        self::assertNotSame(0, $status);
        self::assertStringContainsString($said, $output);
        self::assertStringContainsString('bin/test application', $output);
        foreach (['store/2024', 'ledger', 'work'] as $folder) {
            self::assertSame('evidence', file_get_contents($data->path.'/'.$folder.'/kept'));
        }
    }

    public function testAnInstallationIsNotMistakenForAFolderOfTests(): void
    {
        $data = new Folder();
        $data->file(TestFolder::MARKER, '');
        TestFolder::check($data->path);
        $data->file('ypomna.env', 'YPOMNA_MODE=empty');
        $this->expectExceptionMessage('data folder of an installation');
        TestFolder::check($data->path);
    }

    public function testOnlyWhatNeedsNoDataRunsWithout(): void
    {
        foreach ([
            ['phpunit', '--testsuite', 'core'],
            ['phpunit', '--testsuite=core,system'],
            ['phpunit', 'tests/Core/Warc'],
            ['phpunit', '--filter', 'x', 'tests/Files/TestsRefuseTest.php'],
        ] as $arguments) {
            self::assertFalse(TestFolder::isNeeded($arguments), implode(' ', $arguments));
        }
        foreach ([
            ['phpunit'], ['phpunit', '--testsuite', 'core,application'], ['phpunit', 'tests'], ['phpunit', './tests/App'],
            ['phpunit', 'tests/Core/../App/CatalogueTest.php'], ['phpunit', 'tests/Core', 'tests/App'],
        ] as $arguments) {
            self::assertTrue(TestFolder::isNeeded($arguments), implode(' ', $arguments));
        }
    }

    public function testTheInterfacesTestsWriteIntoNoInstallationUnasked(): void
    {
        $config = (string) file_get_contents(Stack::root().'/playwright.config.mjs');
        self::assertStringNotContainsString('8020', $config);
        self::assertStringContainsString('throw new Error', $config);
    }
}
