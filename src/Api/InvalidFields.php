<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

/** What a program sent is not what is wanted (status 422). */
final class InvalidFields extends \RuntimeException
{
    /** @param non-empty-list<array{pointer: string, detail: string}> $errors where (RFC 6901), and what is wrong there */
    public function __construct(public readonly array $errors)
    {
        parent::__construct($errors[0]['detail']);
    }

    public static function at(string $pointer, string $detail): self
    {
        return new self([['pointer' => $pointer, 'detail' => $detail]]);
    }
}
