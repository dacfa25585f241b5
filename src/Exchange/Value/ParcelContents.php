<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

/** What a parcel came to. */
final readonly class ParcelContents
{
    /**
     * @param list<array{name: string, bytes: int, sha256: string}> $files the manifest last
     * @param list<string> $leftOut what could not be given, and why
     */
    public function __construct(public array $files, public int $captures, public array $leftOut)
    {
    }
}
