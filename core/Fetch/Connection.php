<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** A connection to a server. */
interface Connection extends Duplex
{
    /**
     * The certificates that the server showed, its own first, in PEM; none without TLS.
     *
     * @return list<string>
     */
    public function certificates(): array;
}
