<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Shared\Codes;

/** Forms of what is found by its words. */
final class FindingSchemas
{
    private const TEXT = ['type' => 'string'];
    private const TEXT_OR_NULL = ['type' => ['string', 'null']];
    private const NUMBER = ['type' => 'integer', 'minimum' => 0];
    private const MOMENT = ['type' => 'string', 'format' => 'date-time'];
    private const MOMENT_OR_NULL = ['type' => ['string', 'null'], 'format' => 'date-time'];

    /** @return array<string, array<string, mixed>> */
    public static function all(): array
    {
        $code = ['type' => 'string', 'pattern' => '^'.Codes::PATTERN.'$'];
        $codeOrNull = ['type' => ['string', 'null']] + $code;
        $values = ['type' => 'array', 'items' => Schemas::object(['value' => self::TEXT, 'count' => self::NUMBER])];

        return [
            'Found' => Schemas::object([
                'total' => self::NUMBER, 'exact' => ['type' => 'boolean'], 'understood' => self::TEXT, 'suggestion' => self::TEXT_OR_NULL,
                'facets' => Schemas::object([
                    'year' => $values, 'site' => $values, 'kind' => $values, 'tag' => $values, 'language' => $values, 'state' => $values,
                ]),
                'items' => ['type' => 'array', 'items' => Schemas::object([
                    'kind' => ['enum' => array_map(static fn (Kind $kind): string => $kind->word(), Kind::cases())],
                    'code' => $code, 'address' => $codeOrNull, 'title' => self::TEXT, 'near' => self::NUMBER, 'url' => self::TEXT,
                    'site' => self::TEXT,
                    'capturedAt' => self::MOMENT_OR_NULL, 'stood' => Schemas::object([
                        'first' => self::MOMENT, 'last' => self::MOMENT, 'captures' => self::NUMBER, 'of' => self::NUMBER,
                    ]),
                    'snippets' => ['type' => 'array', 'items' => Schemas::object([
                        'text' => self::TEXT, 'passage' => ['type' => ['integer', 'null']], 'capture' => $codeOrNull,
                        'means' => ['enum' => array_map(static fn (Means $means): string => $means->word(), Means::cases())],
                        'marks' => ['type' => 'array', 'items' => [
                            'type' => 'array', 'items' => self::NUMBER, 'minItems' => 2, 'maxItems' => 2,
                        ]],
                    ])],
                    'open' => self::TEXT,
                ])],
                'next' => self::TEXT_OR_NULL,
            ]),
            'WordLife' => Schemas::object([
                'q' => self::TEXT, 'captures' => self::NUMBER, 'first' => self::MOMENT_OR_NULL, 'last' => self::MOMENT_OR_NULL,
                'spans' => ['type' => 'array', 'items' => Schemas::object([
                    'from' => self::MOMENT, 'to' => self::MOMENT, 'captures' => self::NUMBER,
                ])],
                'absentSince' => self::MOMENT_OR_NULL,
            ]),
        ];
    }
}
