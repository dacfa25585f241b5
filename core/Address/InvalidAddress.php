<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/** What was given is no address; the message says which part of it is wrong. */
final class InvalidAddress extends \InvalidArgumentException
{
    public static function because(string $given, string $reason): self
    {
        $shown = mb_strimwidth(mb_scrub($given), 0, 120, '…');

        return new self(\sprintf('“%s” is not an address: %s.', $shown, $reason));
    }
}
