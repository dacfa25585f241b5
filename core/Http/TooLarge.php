<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

final class TooLarge extends \RuntimeException
{
    public function __construct(public readonly int $limit)
    {
        parent::__construct(\sprintf('This is longer than the %d bytes that are read here.', $limit));
    }
}
