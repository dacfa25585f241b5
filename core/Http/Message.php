<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * An HTTP message that passes by: its head at hand, its body still to come. Interim answers before the one that counts
 * (RFC 9110 section 15.2) are passed over.
 */
final class Message
{
    /**
     * @param MessageHead|null $head null if there is no head that can be read
     * @param string $rest what was read beyond it
     * @param \Generator<int, string> $pieces
     */
    private function __construct(
        public readonly ?MessageHead $head,
        private readonly string $rest,
        private readonly \Generator $pieces,
        public readonly bool $complete,
        /** The head as it stands; '' if there is none. */
        public readonly string $headBytes = '',
    ) {
    }

    /**
     * @param \Generator<int, string> $pieces
     */
    public static function read(\Generator $pieces): self
    {
        $bytes = '';
        for (; $pieces->valid(); $pieces->next()) {
            $bytes .= $pieces->current();
            while (null !== ($end = MessageHead::end($bytes))) {
                try {
                    $headBytes = substr($bytes, 0, $end);
                    $head = MessageHead::parse($headBytes);
                } catch (MalformedMessage) {
                    return self::without($bytes, $pieces);
                }
                $bytes = substr($bytes, $end);
                if (null === $head->status || $head->status >= 200 || 101 === $head->status) {
                    $pieces->next();

                    return new self($head, $bytes, $pieces, true, $headBytes);
                }
            }
            if (\strlen($bytes) > MessageHead::MAX_BYTES) {
                return self::without($bytes, $pieces);
            }
        }
        try {
            // A head without the empty line behind it, at the end of the bytes.
            return new self(MessageHead::parse($bytes), '', $pieces, false, $bytes);
        } catch (MalformedMessage) {
            return new self(null, $bytes, $pieces, false);
        }
    }

    /**
     * Bytes that are a body without any head.
     *
     * @param \Generator<int, string> $pieces
     */
    public static function bare(\Generator $pieces): self
    {
        return new self(null, '', $pieces, true);
    }

    /** Bytes of interim answers and head, up to where the body begins. */
    public static function headLength(string $bytes): int
    {
        $length = 0;
        while (null !== ($end = MessageHead::end(substr($bytes, $length)))) {
            $head = MessageHead::parse(substr($bytes, $length, $end));
            $length += $end;
            if (null === $head->status || $head->status >= 200 || 101 === $head->status) {
                break;
            }
        }

        return $length;
    }

    /**
     * The body as it stands; all bytes if there is no head. Can be read once.
     *
     * @return \Generator<int, string>
     */
    public function raw(): \Generator
    {
        if ('' !== $this->rest) {
            yield $this->rest;
        }
        for (; $this->pieces->valid(); $this->pieces->next()) {
            yield $this->pieces->current();
        }
    }

    /**
     * The body with its chunked coding taken off, its content-coding left on. Can be read once.
     *
     * @return \Generator<int, string>
     */
    public function body(): \Generator
    {
        return true === $this->head?->isChunked() ? Body::unchunk($this->raw()) : $this->raw();
    }

    /**
     * @param \Generator<int, string> $pieces
     */
    private static function without(string $bytes, \Generator $pieces): self
    {
        $pieces->next();

        return new self(null, $bytes, $pieces, false);
    }
}
