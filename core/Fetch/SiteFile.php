<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcWriter;

/**
 * One of the files in which the pages of a site are kept, one behind the other. It can be left and gone on with, as long as what
 * lies behind the last point at which all was well is cut off.
 */
final class SiteFile
{
    private ExchangeRecords $records;
    private WarcWriter $writer;

    /**
     * @param resource $out at its end
     * @param \Closure(): string $newId a new record id, `urn:uuid:…`, at each call
     * @param \Closure(string): ?KnownPayload|null $known says whether a payload is held already, by its SHA-256 in hex
     * @param string $info id of the file's warcinfo record
     * @param int $begun bytes that the file has
     */
    private function __construct(
        private $out,
        private readonly \Closure $newId,
        private readonly ?\Closure $known,
        private readonly string $info,
        private int $begun,
    ) {
        $this->writer = new WarcWriter($out);
        $this->records = new ExchangeRecords($newId, $known);
    }

    /** What was added behind that point is no more: whoever held the file has cut it off. */
    public function backTo(int $bytes): void
    {
        $this->begun = $bytes;
        $this->writer = new WarcWriter($this->out);
        $this->records = new ExchangeRecords($this->newId, $this->known);
    }

    /**
     * @param resource $out
     * @param \Closure(): string $newId
     * @param \Closure(string): ?KnownPayload|null $known
     * @param array<string, string> $facts further lines of the warcinfo record
     */
    public static function begin(
        $out,
        string $info,
        string $fileName,
        \DateTimeImmutable $at,
        array $facts,
        \Closure $newId,
        ?\Closure $known,
    ): self {
        $file = new self($out, $newId, $known, $info, 0);
        $lines = '';
        foreach ($facts as $name => $value) {
            $lines .= $name.': '.preg_replace('/[\r\n]+/', ' ', $value)."\r\n";
        }
        $file->writer->write(
            RecordType::Warcinfo,
            $info,
            $at,
            ['WARC-Filename' => $fileName, 'Content-Type' => 'application/warc-fields'],
            Block::ofString("format: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\n".$lines),
        );

        return $file;
    }

    /**
     * @param resource $out at its end
     * @param \Closure(): string $newId
     * @param \Closure(string): ?KnownPayload|null $known
     */
    public static function goOn($out, string $info, int $bytes, \Closure $newId, ?\Closure $known): self
    {
        return new self($out, $newId, $known, $info, $bytes);
    }

    /** @return array{string, int, bool} id of the answer's record, where it stands, and whether it refers to an earlier one */
    public function add(Exchange $exchange, bool $isPage): array
    {
        [$id, $offset, $again] = $this->records->write($this->writer, $exchange, $this->info, $isPage, $isPage);

        return [$id, $this->begun + $offset, $again];
    }

    /**
     * What there is to say of a page.
     *
     * @param array<string, mixed> $facts
     */
    public function about(string $page, Exchange $main, array $facts): void
    {
        $this->writer->write(RecordType::Metadata, ($this->newId)(), $main->at, [
            'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$this->info.'>',
            'Content-Type' => 'application/json',
        ], Block::ofString(json_encode(
            ['page' => $page] + $facts,
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        )));
    }

    /**
     * Adds whole records from another file.
     *
     * @param iterable<string> $pieces
     *
     * @return int where they begin
     */
    public function append(iterable $pieces): int
    {
        return $this->begun + $this->writer->raw($pieces);
    }

    /** How long the file is, in bytes. */
    public function bytes(): int
    {
        return $this->begun + $this->writer->bytes();
    }
}
