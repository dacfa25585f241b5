<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * A client that asks once and takes whatever comes.
 *
 * @internal
 */
final class LoneRequest implements Duplex
{
    public function __construct(private string $request)
    {
    }

    public function read(?float $seconds = null): string
    {
        $request = $this->request;
        $this->request = '';

        return $request;
    }

    public function write(string $bytes, ?float $seconds = null): void
    {
    }

    public function close(): void
    {
    }
}
