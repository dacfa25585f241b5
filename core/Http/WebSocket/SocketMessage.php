<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\WebSocket;

/** What one side of a web socket said. */
final readonly class SocketMessage
{
    /**
     * @param string $data unpacked and unmasked; of a close, its reason
     * @param int|null $code of a close (RFC 6455, section 7.4); null if it has none, and with all else
     */
    public function __construct(public MessageKind $kind, public string $data, public ?int $code = null)
    {
    }
}
