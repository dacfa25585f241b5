<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

use Ypomna\Core\Split;

/**
 * Start line and fields of an HTTP message (RFC 9112 sections 2 to 5), read as leniently as browsers do: bare LF,
 * a missing reason, any version.
 */
final readonly class MessageHead
{
    /** Longest head that is read, in bytes; browsers stop at 256 KiB too. */
    public const MAX_BYTES = 262_144;

    private function __construct(
        public string $startLine,
        public Fields $fields,
        /** Status code of an answer; null for a request. */
        public ?int $status,
        /** Method of a request; null for an answer. */
        public ?string $method,
        /** Target of a request, as it stands; null for an answer. */
        public ?string $target,
    ) {
    }

    /**
     * Where the head ends: the offset behind the blank line, or null if it is not there yet.
     */
    public static function end(string $bytes): ?int
    {
        return 1 === preg_match('/\r?\n\r?\n/', $bytes, $m, \PREG_OFFSET_CAPTURE) ? $m[0][1] + \strlen($m[0][0]) : null;
    }

    /**
     * @param string $bytes the head, with or without the blank line that ends it
     *
     * @throws MalformedMessage
     */
    public static function parse(string $bytes): self
    {
        $bytes = ltrim($bytes, "\r\n");
        [$start, $rest] = Split::by('/\r?\n/', $bytes, 2) + ['', ''];
        $fields = Fields::parse($rest);
        if (1 === preg_match('#^(?:HTTP/\d+(?:\.\d+)?|ICY)\s+(\d{3})(?!\d)#i', $start, $m)) {
            return new self($start, $fields, (int) $m[1], null, null);
        }
        if (1 === preg_match('#^([!\#$%&\'*+.^_`|~0-9A-Za-z-]+) +(\S.*?)(?: +HTTP/\d+(?:\.\d+)?)?\s*$#', $start, $m)) {
            return new self($start, $fields, null, strtoupper($m[1]), $m[2]);
        }
        throw new MalformedMessage(\sprintf(
            '“%s” is neither a status line nor a request line.', mb_strimwidth(mb_scrub($start), 0, 80, '…'),
        ));
    }

    /** Media type without parameters, in lower case. */
    public function mime(): ?string
    {
        $type = strtolower(trim(explode(';', $this->fields->get('Content-Type') ?? '')[0]));

        return '' === $type ? null : $type;
    }

    public function contentLength(): ?int
    {
        $value = $this->fields->get('Content-Length');

        return null !== $value && 1 === preg_match('/^\d{1,18}$/', $value) ? (int) $value : null;
    }

    public function isChunked(): bool
    {
        $codings = $this->fields->tokens('Transfer-Encoding');

        return [] !== $codings && 'chunked' === end($codings);
    }

    /** How the body of this request, or of this answer to a request of that method, is delimited. */
    public function framing(string $requestMethod = 'GET'): Framing
    {
        if (null !== $this->status) {
            $none = 'HEAD' === $requestMethod || $this->status < 200 || 204 === $this->status || 304 === $this->status;
            if ($none) {
                return Framing::None;
            }
        }
        if ($this->isChunked()) {
            return Framing::Chunked;
        }
        if (null !== $this->contentLength()) {
            return Framing::Length;
        }

        return null === $this->status ? Framing::None : Framing::UntilClose;
    }

    /** Whether the connection may carry another exchange after this message. */
    public function keepsAlive(): bool
    {
        $tokens = $this->fields->tokens('Connection');
        if (\in_array('close', $tokens, true)) {
            return false;
        }

        return 1 !== preg_match('#HTTP/1\.0#', $this->startLine) || \in_array('keep-alive', $tokens, true);
    }
}
