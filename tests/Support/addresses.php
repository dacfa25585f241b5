<?php

declare(strict_types=1);

// Reads addresses as this product does: a list of pairs of address and base as JSON on standard input, a list of addresses or null on
// standard output.

use Ypomna\Core\Address\Url;

require dirname(__DIR__, 2).'/vendor/autoload.php';

/** @var list<array{string, string}> $pairs */
$pairs = json_decode((string) file_get_contents('php://stdin'), true, 4, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
echo json_encode(array_map(static function (array $pair): ?string {
    $url = Url::tryParse($pair[0], '' === $pair[1] ? null : Url::parse($pair[1]));

    return null === $url ? null : (string) $url;
}, $pairs), \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
