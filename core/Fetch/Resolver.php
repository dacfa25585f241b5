<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** Asks for the addresses of a name. */
interface Resolver
{
    /**
     * @param string $host a name in ASCII; never an address
     */
    public function resolve(string $host): DnsAnswer;
}
