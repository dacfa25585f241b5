<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Writes a WARC/1.1 file of `resource` records (ISO 28500:2017, clause 6.4) from something that was kept in another format:
 * what it was made from is said in its warcinfo and beside each page. The same input gives the same bytes: ids are
 * made from the digest of the source.
 */
final class ResourceFile
{
    /** Fields of ours (clause 5.1 lets there be others). The status that a witness's browser saw of what is no `response`. */
    public const SEEN_STATUS = 'Ypomna-Seen-Status';
    /** Says of an answer in a file of many pages that it was asked for as a page. */
    public const ASKED_AS = 'Ypomna-Asked-As';

    private WarcWriter $writer;
    private int $count = 0;
    private string $info;

    /**
     * @param resource $out
     * @param string $source SHA-256 of the file that the records are made from, hex
     * @param array<string, mixed> $from what is known of that file: `name`, `kind`, and what it says of itself
     * @param string $agent by whom the pages were kept, where it was not said who; a single line
     * @param string $how how they were come by, where they were not converted
     * @param WitnessStatement|null $witness where it is somebody's own copy: what they say of it
     */
    public function __construct(
        $out,
        private readonly string $source,
        private readonly \DateTimeImmutable $date,
        string $software,
        private readonly array $from,
        string $agent = '',
        private readonly string $how = 'converted',
        private readonly ?WitnessStatement $witness = null,
    ) {
        $this->writer = new WarcWriter($out);
        $this->info = $this->id();
        $this->writer->write(RecordType::Warcinfo, $this->info, $date, ['Content-Type' => 'application/warc-fields'], Block::ofString(
            'software: '.$software
                ."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\ndescription: made from bytes with the SHA-256 ".$source
                ."\r\n".('' === $agent ? '' : 'operator: '.preg_replace('/[\x00-\x1f\x7f]+/', ' ', $agent)."\r\nhow: ".$how."\r\n")
                .(null === $witness ? '' : "pages: marked\r\n"),
        ));
    }

    /**
     * @param \DateTimeImmutable|null $at where it is of another moment than the file
     * @param bool $isPage whether it is the page of which a witness speaks
     *
     * @return string id of the record
     */
    public function resource(string $url, string $contentType, Block $block, ?\DateTimeImmutable $at = null, bool $isPage = false): string
    {
        $id = $this->id();
        $status = $isPage ? $this->witness?->status() : null;
        $this->writer->write(RecordType::Resource, $id, $at ?? $this->date, [
            'WARC-Target-URI' => $url, 'WARC-Warcinfo-ID' => '<'.$this->info.'>', 'Content-Type' => $contentType,
            'WARC-Payload-Digest' => 'sha256:'.$block->sha256,
        ] + (null === $status ? [] : [self::SEEN_STATUS => (string) $status])
            // Frames are no pages of their own.
            + ($isPage && null !== $this->witness ? [self::ASKED_AS => 'page'] : []), $block);

        return $id;
    }

    /** What a page looked like (clause 6.7). */
    public function picture(string $page, string $url, string $contentType, Block $block): void
    {
        $this->writer->write(RecordType::Conversion, $this->id(), $this->date, [
            'WARC-Target-URI' => $url, 'WARC-Refers-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$this->info.'>',
            'Content-Type' => $contentType,
        ], $block);
    }

    /** Says that a record is a page, and what it was made from. */
    public function page(string $id, string $url, string $title): void
    {
        $json = json_encode(
            ['page' => $id, 'title' => $title, 'how' => $this->how, 'convertedFrom' => ['sha256' => $this->source] + $this->from]
                + (null === $this->witness ? [] : ['witness' => $this->witness->toArray()]),
            \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
        $this->writer->write(
            RecordType::Metadata,
            $this->id(),
            $this->date,
            [
                'WARC-Target-URI' => $url, 'WARC-Concurrent-To' => '<'.$id.'>', 'WARC-Warcinfo-ID' => '<'.$this->info.'>',
                'Content-Type' => 'application/json',
            ],
            Block::ofString($json),
        );
    }

    /** A name-based UUID (RFC 9562 section 5.8) of the source and a running number. */
    private function id(): string
    {
        $hash = hash('sha256', $this->source.' '.$this->count++);

        return \sprintf(
            'urn:uuid:%s-%s-8%s-%s%s-%s', substr($hash, 0, 8), substr($hash, 8, 4), substr($hash, 13, 3),
            dechex(8 | (hexdec($hash[16]) & 3)), substr($hash, 17, 3), substr($hash, 20, 12),
        );
    }
}
