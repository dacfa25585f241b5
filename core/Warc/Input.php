<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * The unpacked bytes of a WARC file, member by member: a gzip file has many (ISO 28500:2017, annex D; RFC 1952), a plain
 * file is read as one. Nothing is read beyond a member until the next is asked for, so that a record's end and its member's
 * can be compared.
 *
 * @internal
 */
final class Input
{
    private const RAW_STEP = 32_768;
    /** A step that unpacks to more makes the next ones smaller: a bomb must not fill the memory. */
    private const LARGE = 262_144;
    private const MAGIC = "\x1f\x8b\x08";

    private string $buffer = '';
    /** How much of the buffer has been taken out. */
    private int $used = 0;
    /** Packed bytes that were read and not unpacked yet. */
    private string $raw = '';
    private int $step = self::RAW_STEP;
    private ?\InflateContext $inflater = null;
    /** Whether the member that was opened last may still give bytes. */
    private bool $open = false;
    private int $memberStart = 0;
    /** Where in the file the next byte is that has not been unpacked. */
    private int $rawAt = 0;
    /** Unpacked bytes before the buffer, since the file's beginning or the last seek. */
    private int $passed = 0;
    /** Why the member that was opened last ended before its time. */
    public ?WarcError $fault = null;

    /**
     * @param resource $handle
     */
    private function __construct(private $handle, public readonly bool $gzip, private readonly int $size)
    {
    }

    /**
     * @param bool $gzip whether it is read as gzip whatever it begins with
     *
     * @throws WarcError
     */
    public static function open(string $path, bool $gzip = false): self
    {
        $handle = is_file($path) ? @fopen($path, 'r') : false;
        if (false === $handle) {
            throw new WarcError(FindingCode::NotWarc, 0, \sprintf('The file “%s” cannot be opened', $path));
        }
        stream_set_read_buffer($handle, 0);
        $magic = (string) fread($handle, 2);
        rewind($handle);

        return new self($handle, $gzip || substr(self::MAGIC, 0, 2) === $magic, (int) (fstat($handle)['size'] ?? 0));
    }

    public function __destruct()
    {
        fclose($this->handle);
    }

    /** Goes to a place in the file: a byte of a plain file, the beginning of a member of a gzip file. */
    public function seek(int $offset): void
    {
        fseek($this->handle, $offset);
        $this->rawAt = $this->passed = $offset;
        $this->buffer = $this->raw = '';
        $this->used = 0;
        $this->inflater = null;
        $this->open = !$this->gzip;
        $this->fault = null;
    }

    /** Size of the file in bytes, packed. */
    public function size(): int
    {
        return $this->size;
    }

    /** How far reading has come, in bytes of the file. */
    public function progress(): int
    {
        return $this->rawAt;
    }

    /** Unpacked bytes before the next one; in a plain file its offset. */
    public function position(): int
    {
        return $this->passed;
    }

    /** Unpacked bytes that are left; null where that cannot be known. */
    public function remaining(): ?int
    {
        return $this->gzip ? null : max(0, $this->size - $this->passed);
    }

    public function memberStart(): int
    {
        return $this->memberStart;
    }

    /** Where the member that was opened last ends in the file; only once it has been read to its end. */
    public function memberEnd(): int
    {
        return $this->rawAt;
    }

    /**
     * Opens the next member.
     *
     * @return bool false at the end of the file
     *
     * @throws WarcError if something else than a member begins here
     */
    public function next(): bool
    {
        $this->fault = null;
        if (!$this->gzip) {
            $this->open = 0 === $this->rawAt && $this->size > 0 && !$this->open;

            return $this->open;
        }
        $this->raw = '';
        $this->step = self::RAW_STEP;
        fseek($this->handle, $this->rawAt);
        $magic = (string) fread($this->handle, \strlen(self::MAGIC));
        if ('' === $magic) {
            return false;
        }
        fseek($this->handle, $this->rawAt);
        $inflater = self::MAGIC === $magic ? inflate_init(\ZLIB_ENCODING_GZIP) : false;
        if (false === $inflater) {
            throw new WarcError(FindingCode::Garbage, $this->rawAt, 'A gzip member should begin here, but something else stands there');
        }
        $this->inflater = $inflater;
        $this->memberStart = $this->rawAt;
        $this->open = true;

        return true;
    }

    /**
     * @return string up to that many bytes of the member; '' at its end
     */
    public function read(int $max): string
    {
        if (0 === $this->held()) {
            $this->fill();
        }

        return $this->taken($max);
    }

    /**
     * @return string up to and with the next LF, or what there is before the member's end or the limit
     */
    public function line(int $max): string
    {
        $lf = strpos($this->buffer, "\n", $this->used);
        while (false === $lf && $this->held() < $max) {
            $from = $this->held();
            if (!$this->fill()) {
                break;
            }
            $lf = strpos($this->buffer, "\n", $from);
        }

        return $this->taken(min(false === $lf ? $this->held() : $lf + 1 - $this->used, $max));
    }

    /**
     * @return string the next bytes, not taken out; fewer at the member's end
     */
    public function peek(int $length): string
    {
        while ($this->held() < $length && $this->fill()) {
        }

        return substr($this->buffer, $this->used, $length);
    }

    private function held(): int
    {
        return \strlen($this->buffer) - $this->used;
    }

    private function taken(int $most): string
    {
        $piece = substr($this->buffer, $this->used, $most);
        $this->used += \strlen($piece);
        $this->passed += \strlen($piece);

        return $piece;
    }

    /**
     * Adds unpacked bytes to the buffer, whose used part is dropped.
     *
     * @return bool false at the end of the member
     */
    private function fill(): bool
    {
        if ($this->used > 0) {
            $this->buffer = substr($this->buffer, $this->used);
            $this->used = 0;
        }
        while ($this->open) {
            $this->raw = '' === $this->raw ? (string) fread($this->handle, self::RAW_STEP) : $this->raw;
            $raw = $this->gzip ? substr($this->raw, 0, $this->step) : $this->raw;
            $this->raw = substr($this->raw, \strlen($raw));
            if ('' === $raw) {
                $this->open = false;
                if ($this->gzip) {
                    $this->fault = new WarcError(FindingCode::Truncated, $this->memberStart, 'The file ends in the middle of a gzip member');
                }

                return false;
            }
            if (!$this->gzip) {
                $this->rawAt += \strlen($raw);
                $this->buffer .= $raw;

                return true;
            }
            $out = $this->unpack($raw);
            $this->step = \strlen($out) > self::LARGE ? max(256, intdiv($this->step, 4)) : min(self::RAW_STEP, 2 * $this->step);
            if ('' !== $out) {
                $this->buffer .= $out;

                return true;
            }
        }

        return false;
    }

    private function unpack(string $raw): string
    {
        \assert(null !== $this->inflater);
        $out = @inflate_add($this->inflater, $raw);
        if (false === $out) {
            $this->fault = new WarcError(FindingCode::BadGzip, $this->memberStart, 'The gzip member cannot be unpacked, or not to what its check sum says');
            $this->open = false;

            return $this->salvaged($raw);
        }
        $this->rawAt += \strlen($raw);
        if (\ZLIB_STREAM_END === inflate_get_status($this->inflater)) {
            $this->rawAt = $this->memberStart + inflate_get_read_len($this->inflater);
            $this->open = false;
        }

        return $out;
    }

    /**
     * What the last piece gives before the damage in it: the coder drops that, so the member is unpacked once more up to
     * there, and then byte by byte.
     */
    private function salvaged(string $raw): string
    {
        $inflater = inflate_init(\ZLIB_ENCODING_GZIP);
        if (false === $inflater) {
            return '';
        }
        fseek($this->handle, $this->memberStart);
        for ($left = $this->rawAt - $this->memberStart; $left > 0; $left -= \strlen($piece)) {
            $piece = (string) fread($this->handle, min($left, self::RAW_STEP));
            if ('' === $piece || false === @inflate_add($inflater, $piece)) {
                return '';
            }
        }
        $saved = '';
        foreach (str_split($raw) as $byte) {
            $out = @inflate_add($inflater, $byte, \ZLIB_SYNC_FLUSH);
            if (false === $out) {
                break;
            }
            $saved .= $out;
        }

        return $saved;
    }
}
