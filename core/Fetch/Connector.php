<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** Opens connections to addresses that the guard has let pass. */
interface Connector
{
    /**
     * @param string $host name for SNI and for the check of the certificate
     * @param string $ip where to connect to; it is not looked up again
     *
     * @throws FetchFailed
     */
    public function connect(string $host, string $ip, int $port, bool $tls): Connection;
}
