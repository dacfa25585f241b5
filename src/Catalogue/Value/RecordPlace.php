<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Where a record stands, and when and as what it was kept. */
final readonly class RecordPlace
{
    public function __construct(
        public int $fileId,
        public string $path,
        public int $offset,
        public \DateTimeImmutable $at,
        public int $status,
        public string $mime,
        public string $method,
        public string $url,
        public bool $own,
        /** Of the block, in bytes. */
        public int $length,
        /** Hex; null where it is not known. */
        public ?string $payloadSha256,
        /** SHA-256 of what was sent with the request, hex; null where nothing was. */
        public ?string $requestBody = null,
        /** Where it comes from another moment: what was answered last before the page's, and first behind it. */
        public ?self $before = null,
        public ?self $after = null,
        /** Whether the answer broke off, or a limit cut it. */
        public bool $cut = false,
    ) {
    }

    public function between(?self $before, ?self $after): self
    {
        return new self(
            $this->fileId, $this->path, $this->offset, $this->at, $this->status, $this->mime, $this->method, $this->url, $this->own,
            $this->length, $this->payloadSha256, $this->requestBody, $before, $after, $this->cut,
        );
    }

    /**
     * @param array<string, mixed> $row
     */
    public static function fromRow(array $row): self
    {
        $row = new Row($row);

        return new self(
            $row->int('warc_file_id'), $row->text('path'), $row->int('at_offset'), MomentType::moment($row->text('captured_at')),
            $row->int('status'),
            $row->text('mime'), $row->text('method'), $row->text('url'), WarcFile::OWN === $row->text('origin'), $row->int('length'),
            $row->textOrNull('payload'), $row->textOrNull('request_body'), cut: 1 === $row->int('cut'),
        );
    }

    /** Distance in time, in seconds. */
    public function distance(\DateTimeImmutable $moment): float
    {
        return abs((float) $this->at->format('U.u') - (float) $moment->format('U.u'));
    }
}
