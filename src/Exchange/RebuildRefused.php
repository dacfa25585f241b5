<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

/** The catalogue had better stay as it is: what it would be made from is not whole. */
final class RebuildRefused extends \RuntimeException
{
    /**
     * @param list<string> $what is not as it should be
     */
    public function __construct(string $message, public readonly array $what)
    {
        parent::__construct($message);
    }
}
