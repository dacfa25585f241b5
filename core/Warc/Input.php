<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * The unpacked bytes of a WARC file, plain or in gzip members (ISO 28500:2017, annex D; RFC 1952), read forward in
 * small pieces from any record's offset.
 */
final class Input
{
    private const RAW_STEP = 32_768;

    private string $buffer = '';
    private ?\InflateContext $inflater = null;
    /** Where in the file the open member began. */
    private int $memberStart = 0;
    /** Where in the file the next byte is that has not been unpacked. */
    private int $rawAt = 0;

    /**
     * @param resource $handle
     */
    private function __construct(private $handle, public readonly bool $gzip, private readonly int $size)
    {
    }

    /**
     * @throws WarcError
     */
    public static function open(string $path): self
    {
        $handle = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $handle) {
            throw new WarcError(FindingCode::NotWarc, 0, \sprintf('The file “%s” cannot be opened', $path));
        }
        $magic = (string) fread($handle, 2);
        rewind($handle);

        return new self($handle, "\x1f\x8b" === $magic, (int) (fstat($handle)['size'] ?? 0));
    }

    public function __destruct()
    {
        fclose($this->handle);
    }

    public function seek(int $offset): void
    {
        fseek($this->handle, $offset);
        $this->rawAt = $offset;
        $this->buffer = '';
        $this->inflater = null;
    }

    /** Size of the file in bytes, packed. */
    public function size(): int
    {
        return $this->size;
    }

    /**
     * Where the next byte stands in the file; within a gzip member, where the member begins.
     */
    public function offset(): int
    {
        if ($this->gzip) {
            // What is in the buffer came from the member that was opened last, even if that has been unpacked to its end.
            return '' === $this->buffer && null === $this->inflater ? $this->rawAt : $this->memberStart;
        }

        return $this->rawAt - \strlen($this->buffer);
    }

    /**
     * @return string up to that many bytes; '' only at the end of the file
     *
     * @throws WarcError
     */
    public function read(int $max): string
    {
        if ('' === $this->buffer) {
            $this->fill();
        }
        $piece = substr($this->buffer, 0, $max);
        $this->buffer = substr($this->buffer, \strlen($piece));

        return $piece;
    }

    /**
     * @return string up to and with the next LF, or what there is before the end; '' at the end
     *
     * @throws WarcError
     */
    public function line(int $max): string
    {
        $lf = strpos($this->buffer, "\n");
        while (false === $lf && \strlen($this->buffer) < $max && $this->fill()) {
            $lf = strpos($this->buffer, "\n");
        }
        $line = substr($this->buffer, 0, min(false === $lf ? \strlen($this->buffer) : $lf + 1, $max));
        $this->buffer = substr($this->buffer, \strlen($line));

        return $line;
    }

    /** The next byte, not taken out; '' at the end. */
    public function peek(): string
    {
        return '' !== $this->buffer || $this->fill() ? $this->buffer[0] : '';
    }

    /** Whether the next byte is the first of a gzip member; always true of a plain file. */
    public function atMemberStart(): bool
    {
        return !$this->gzip || ('' === $this->buffer && null === $this->inflater);
    }

    /**
     * Adds unpacked bytes to the buffer.
     *
     * @return bool false at the end of the file
     */
    private function fill(): bool
    {
        if (!$this->gzip) {
            $piece = (string) fread($this->handle, self::RAW_STEP);
            $this->rawAt += \strlen($piece);
            $this->buffer .= $piece;

            return '' !== $piece;
        }
        do {
            $raw = (string) fread($this->handle, self::RAW_STEP);
            if ('' === $raw) {
                if (null !== $this->inflater) {
                    throw new WarcError(FindingCode::Truncated, $this->memberStart, 'The file ends in the middle of a gzip member');
                }

                return false;
            }
            $out = $this->unpack($raw);
            $this->buffer .= $out;
        } while ('' === $out);

        return true;
    }

    private function unpack(string $raw): string
    {
        if (null === $this->inflater) {
            $this->memberStart = $this->rawAt;
            $inflater = str_starts_with($raw, "\x1f\x8b") ? inflate_init(\ZLIB_ENCODING_GZIP) : false;
            if (false === $inflater) {
                throw new WarcError(FindingCode::Garbage, $this->rawAt, 'A gzip member should begin here');
            }
            $this->inflater = $inflater;
        }
        $out = @inflate_add($this->inflater, $raw);
        if (false === $out) {
            throw new WarcError(FindingCode::BadGzip, $this->memberStart, 'The gzip member cannot be unpacked');
        }
        $this->rawAt += \strlen($raw);
        if (\ZLIB_STREAM_END === inflate_get_status($this->inflater)) {
            $this->rawAt = $this->memberStart + inflate_get_read_len($this->inflater);
            fseek($this->handle, $this->rawAt);
            $this->inflater = null;
        }

        return $out;
    }
}
