<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Core\Fetch\Connection;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/** The other side of a connection: gives its pieces one by one, then ends, and notes what it is told. */
final class PlayedPeer implements Connection
{
    public string $heard = '';
    public bool $closed = false;

    /**
     * @param list<string|FailureReason> $pieces a reason breaks the connection off
     * @param int|null $deafAt bytes after which it takes nothing more
     * @param bool $stays whether it stays in silence instead of ending, and lets other fibers go on
     */
    public function __construct(private array $pieces, private readonly ?int $deafAt = null, private readonly bool $stays = false)
    {
    }

    public function read(?float $seconds = null): string
    {
        if ($this->stays && [] === $this->pieces && null !== \Fiber::getCurrent()) {
            \Fiber::suspend();
            throw new FetchFailed(FailureReason::Timeout, 'As played.');
        }
        $piece = array_shift($this->pieces) ?? '';
        if ($piece instanceof FailureReason) {
            throw new FetchFailed($piece, 'As played.');
        }

        return $piece;
    }

    public function write(string $bytes, ?float $seconds = null): void
    {
        if (null !== $this->deafAt && \strlen($this->heard) + \strlen($bytes) > $this->deafAt) {
            throw new FetchFailed(FailureReason::BadResponse, 'The connection was broken off.');
        }
        $this->heard .= $bytes;
    }

    public function close(): void
    {
        $this->closed = true;
    }

    public function certificates(): array
    {
        return [];
    }
}
