<?php

declare(strict_types=1);

// hostile.php BYTES [END]: reads lines of “READER|DOCUMENT”, has that reader read that document, and prints the line with seconds and peak
// of memory.

use Ypomna\Tests\Support\HostileDocuments;
use Ypomna\Tests\Support\HostileReaders;

require dirname(__DIR__, 2).'/vendor/autoload.php';

while (false !== ($line = fgets(\STDIN))) {
    [$reader, $document] = explode('|', trim($line));
    $text = HostileDocuments::one($document, (int) $argv[1], $argv[2] ?? '');
    memory_reset_peak_usage();
    $from = microtime(true);
    HostileReaders::read($reader, $text);
    printf("%s|%s|%.3f|%d\n", $reader, $document, microtime(true) - $from, memory_get_peak_usage());
}
