<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Value;

/** A request of a browser for something archived. */
final readonly class PartQuery
{
    /**
     * @param string $host without port
     * @param string $port with its colon, or ''
     * @param string $target path and query as they were sent
     * @param array<string, string> $headers by name in lower case
     * @param string|null $body SHA-256 of what was sent, hex; null if nothing was
     */
    public function __construct(
        public string $method,
        public string $scheme,
        public string $host,
        public string $port,
        public string $target,
        public array $headers,
        public ?string $body = null,
    ) {
    }

    public function header(string $name): ?string
    {
        return $this->headers[$name] ?? null;
    }

    /** Whether what comes is shown as a document: in the frame, or in a frame of it. */
    public function opensDocument(): bool
    {
        return \in_array($this->header('sec-fetch-dest') ?? 'document', ['document', 'iframe', 'frame', 'object', 'embed'], true);
    }
}
