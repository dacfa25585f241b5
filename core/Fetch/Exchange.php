<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * One request and what came back, byte for byte in two files of a capture's own folder while it is being made.
 */
final class Exchange
{
    public ?int $status = null;
    public ?string $mime = null;
    public ?string $ip = null;
    public ?FailureReason $failure = null;
    public ?string $message = null;
    /** WARC-Truncated: `length`, `time`, `disconnect`; null if the answer is whole. */
    public ?string $truncated = null;
    public int $requestBytes = 0;
    public int $responseBytes = 0;
    public bool $ended = false;
    /** Whether the answer goes on for as long as somebody listens. */
    public bool $stream = false;
    /** Whether only a range of the whole was answered. */
    public bool $partial = false;
    public ?string $destination = null;
    /** Where the messages of a web socket are written down ({@see SocketLog}); null if it is none that was opened. */
    public ?string $messagesPath = null;

    public function __construct(
        public readonly int $number,
        public string $url,
        public readonly string $method,
        public readonly \DateTimeImmutable $at,
        public readonly string $requestPath,
        public readonly string $responsePath,
    ) {
    }

    /** Whether there is an answer that can be kept. */
    public function isAnswered(): bool
    {
        return null !== $this->status && $this->responseBytes > 0;
    }
}
