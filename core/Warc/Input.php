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
    /** Of a member that was just opened: most are short. */
    private const FIRST_STEP = 4_096;
    /** A step that unpacks to more makes the next ones smaller: a bomb must not fill the memory. */
    private const LARGE = 262_144;
    private const MAGIC = "\x1f\x8b\x08";

    private string $buffer = '';
    /** How much of the buffer has been taken out. */
    private int $used = 0;
    /** Packed bytes that were read. */
    private string $raw = '';
    /** How many of them have been unpacked. */
    private int $rawUsed = 0;
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
            throw new WarcError(WarcFindingCode::NotWarc, 0, \sprintf('The file “%s” cannot be opened', $path));
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
        $this->used = $this->rawUsed = 0;
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
        $this->step = self::FIRST_STEP;
        if (\strlen($this->raw) - $this->rawUsed < \strlen(self::MAGIC)) {
            $this->raw = substr($this->raw, $this->rawUsed).fread($this->handle, self::RAW_STEP);
            $this->rawUsed = 0;
        }
        if (\strlen($this->raw) === $this->rawUsed) {
            return false;
        }
        // Behind the end of a member its coder begins anew by itself.
        $ended = null !== $this->inflater && \ZLIB_STREAM_END === inflate_get_status($this->inflater);
        $inflater = self::MAGIC !== substr($this->raw, $this->rawUsed, \strlen(self::MAGIC))
            ? false
            : ($ended ? $this->inflater : inflate_init(\ZLIB_ENCODING_GZIP));
        if (false === $inflater) {
            throw new WarcError(WarcFindingCode::Garbage, $this->rawAt, 'A gzip member should begin here, but something else stands there');
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
     * The lines up to and with the first empty one, if they end in CR LF and lie at hand; '' if they have to be looked at one
     * by one.
     */
    public function paragraph(int $max): string
    {
        $end = strpos($this->buffer, "\r\n\r\n", $this->used);
        while (false === $end && $this->held() < $max && $this->fill()) {
            $end = strpos($this->buffer, "\r\n\r\n", $this->used);
        }
        if (false === $end || $end + 4 - $this->used > $max) {
            return '';
        }
        $bytes = substr($this->buffer, $this->used, $end - $this->used);

        return str_ends_with($bytes, "\n") || str_contains($bytes, "\n\r") || str_contains($bytes, "\n\n") || str_contains($bytes, "\r\r")
            ? ''
            : $this->taken(\strlen($bytes) + 4);
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
            if (\strlen($this->raw) === $this->rawUsed) {
                $this->raw = (string) fread($this->handle, self::RAW_STEP);
                $this->rawUsed = 0;
            }
            $raw = $this->gzip ? substr($this->raw, $this->rawUsed, $this->step) : $this->raw;
            if ('' === $raw) {
                $this->open = false;
                if ($this->gzip) {
                    $this->fault = new WarcError(
                        WarcFindingCode::Truncated, $this->memberStart, 'The file ends in the middle of a gzip member',
                    );
                }

                return false;
            }
            if (!$this->gzip) {
                $this->pass(\strlen($raw));
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
            $this->fault = new WarcError(
                WarcFindingCode::BadGzip, $this->memberStart, 'The gzip member cannot be unpacked, or not to what its check sum says',
            );
            $this->open = false;
            $this->inflater = null;
            $saved = $this->salvaged($raw);
            fseek($this->handle, $this->rawAt);

            return $saved;
        }
        if (\ZLIB_STREAM_END === inflate_get_status($this->inflater)) {
            $this->pass($this->memberStart + inflate_get_read_len($this->inflater) - $this->rawAt);
            $this->open = false;
        } else {
            $this->pass(\strlen($raw));
        }

        return $out;
    }

    private function pass(int $packed): void
    {
        $this->rawUsed += $packed;
        $this->rawAt += $packed;
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
        $this->raw = '';
        $this->rawUsed = 0;
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
