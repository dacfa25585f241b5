<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/** An address of a list that somebody handed in. */
final readonly class ListedAddress
{
    /**
     * @param string $url canonical for browsers, without a fragment
     * @param string $title what the list calls it; may be empty
     * @param int $line where it stands there, from 1 on
     */
    public function __construct(public string $url, public string $title, public int $line)
    {
    }
}
