<?php

declare(strict_types=1);

require dirname(__DIR__).'/vendor/autoload.php';

// The application's tests write into a folder of their own, which the test command makes and removes.
$folder = getenv('YPOMNA_TEST_DATA');
if (is_string($folder) && '' !== $folder) {
    $_SERVER['YPOMNA_DATA'] = $_ENV['YPOMNA_DATA'] = $folder;
    putenv('YPOMNA_DATA='.$folder);
}
