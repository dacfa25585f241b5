<?php

declare(strict_types=1);

// Decodes lines of "encoding base64" from standard input, for the comparison with the browser; answers with a line of base64 each.

use Ypomna\Core\Http\Encoding\Decoder;
use Ypomna\Core\Http\Encoding\Labels;

require dirname(__DIR__, 2).'/vendor/autoload.php';

while (false !== $line = fgets(\STDIN)) {
    [$label, $bytes] = explode(' ', rtrim($line, "\n"), 2) + ['', ''];
    echo base64_encode(Decoder::decode((string) base64_decode($bytes, true), Labels::encoding($label) ?? 'utf-8')), "\n";
}
