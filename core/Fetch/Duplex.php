<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** Both directions of a connection, whatever carries it. Calls wait until they can go on. */
interface Duplex
{
    /**
     * @param float|null $seconds how long to wait at most; null: the connection's own patience
     *
     * @return string what has come; '' when the other side has ended
     *
     * @throws FetchFailed
     */
    public function read(?float $seconds = null): string;

    /**
     * @param float|null $seconds how long the other side may take nothing; null: the connection's own patience
     *
     * @throws FetchFailed
     */
    public function write(string $bytes, ?float $seconds = null): void;

    public function close(): void;
}
