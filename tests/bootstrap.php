<?php

declare(strict_types=1);

use Ypomna\Tests\Support\TestFolder;

require dirname(__DIR__).'/vendor/autoload.php';

// The application's tests empty the folder that they work in, so they get one that a test run made for them, or none at all:
// without it, nothing here may ever fall back on the folder of an installation.
$folder = getenv('YPOMNA_TEST_DATA');
$folder = is_string($folder) && '' !== $folder ? $folder : TestFolder::NOWHERE;
$_SERVER['YPOMNA_DATA'] = $_ENV['YPOMNA_DATA'] = $folder;
putenv('YPOMNA_DATA='.$folder);
/** @var list<string> $argv */
$argv = $_SERVER['argv'] ?? [];
if (TestFolder::isNeeded($argv)) {
    try {
        TestFolder::check($folder);
    } catch (RuntimeException $e) {
        fwrite(\STDERR, $e->getMessage()."\n");
        exit(2);
    }
}
