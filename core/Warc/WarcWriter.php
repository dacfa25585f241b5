<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Writes WARC/1.1, one gzip member a record (ISO 28500:2017, clauses 4 and 5, annex D). The same records give the same
 * bytes: the gzip header carries neither time nor name.
 */
final class WarcWriter
{
    /** Bytes written so far: the offset of the next record. */
    private int $offset = 0;

    /**
     * @param resource $out writable stream
     * @param bool $packed whether each record is a gzip member
     */
    public function __construct(private $out, private readonly bool $packed = true)
    {
    }

    /**
     * @param array<string, string|null>|list<array{string, string}> $fields what the record says beside type, id, date and length, in that
     *     order; null values are left out
     *
     * @return int offset of the record in the stream
     *
     * @throws \RuntimeException if not everything could be written
     */
    public function write(RecordType $type, string $id, \DateTimeImmutable $date, array $fields, Block $block): int
    {
        $start = $this->offset;
        $header = "WARC/1.1\r\n".self::line('WARC-Type', $type->value)
            .self::line('WARC-Record-ID', '<'.$id.'>')
            .self::line('WARC-Date', self::date($date));
        foreach ($fields as $name => $value) {
            [$name, $value] = \is_array($value) ? $value : [(string) $name, $value];
            $header .= null === $value ? '' : self::line($name, $value);
        }
        $header .= self::line('WARC-Block-Digest', 'sha256:'.$block->sha256).self::line('Content-Length', (string) $block->length)."\r\n";
        $deflater = $this->packed ? deflate_init(\ZLIB_ENCODING_GZIP, ['level' => 6]) : null;
        if (false === $deflater) {
            throw new \RuntimeException('The gzip coder cannot be started.');
        }
        $add = fn (string $bytes, int $flush) => $this->put(null === $deflater ? $bytes : (string) deflate_add($deflater, $bytes, $flush));
        $add($header, \ZLIB_NO_FLUSH);
        $length = 0;
        foreach ($block->pieces() as $piece) {
            $length += \strlen($piece);
            $add($piece, \ZLIB_NO_FLUSH);
        }
        if ($length !== $block->length) {
            throw new \RuntimeException('A block changed its length while it was being written.');
        }
        $add("\r\n\r\n", \ZLIB_FINISH);

        return $start;
    }

    /**
     * Adds whole records as they stand in another file.
     *
     * @param iterable<string> $pieces
     *
     * @return int where they begin
     */
    public function raw(iterable $pieces): int
    {
        $start = $this->offset;
        foreach ($pieces as $piece) {
            $this->put($piece);
        }

        return $start;
    }

    /** Bytes written so far. */
    public function bytes(): int
    {
        return $this->offset;
    }

    /** UTC with microseconds: W3CDTF as clause 5.4 allows since 1.1. */
    public static function date(\DateTimeImmutable $date): string
    {
        return $date->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z');
    }

    private static function line(string $name, string $value): string
    {
        // A line end in a value would begin a field of somebody else's choosing.
        return $name.': '.preg_replace('/[\r\n]+/', ' ', $value)."\r\n";
    }

    private function put(string $bytes): void
    {
        for ($done = 0; $done < \strlen($bytes); $done += $written) {
            $written = @fwrite($this->out, 0 === $done ? $bytes : substr($bytes, $done));
            if (false === $written || 0 === $written) {
                throw new \RuntimeException('The disk took no more: '.(error_get_last()['message'] ?? 'no reason given').'.');
            }
        }
        $this->offset += \strlen($bytes);
    }
}
