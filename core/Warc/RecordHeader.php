<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\Fields;

/**
 * Version line and named fields of a record: ISO 28500:2017, clauses 4 and 5.
 */
final readonly class RecordHeader
{
    public function __construct(public string $version, public Fields $fields)
    {
    }

    /**
     * @throws WarcError
     */
    public static function parse(string $bytes, int $offset): self
    {
        [$line, $rest] = explode("\n", $bytes, 2) + ['', ''];
        if (1 !== preg_match('#^WARC/(\d+\.\d+)\r?$#', $line, $m)) {
            throw new WarcError(FindingCode::NotWarc, $offset, \sprintf('A record should begin here, but “%s” stands there', mb_strimwidth(mb_scrub($line), 0, 60, '…')));
        }
        $header = new self($m[1], Fields::parse($rest));
        $length = $header->fields->get('Content-Length');
        if (null === $length) {
            throw new WarcError(FindingCode::MissingField, $offset, 'The record gives no Content-Length');
        }
        if (1 !== preg_match('/^\d{1,18}$/', $length)) {
            throw new WarcError(FindingCode::BadLength, $offset, 'The record’s Content-Length is no number');
        }

        return $header;
    }

    /** Lower case, as it stands; '' if it is missing. */
    public function type(): string
    {
        return strtolower($this->fields->get('WARC-Type') ?? '');
    }

    public function is(RecordType ...$types): bool
    {
        return \in_array(RecordType::tryFrom($this->type()), $types, true);
    }

    /** Length of the block in bytes. */
    public function contentLength(): int
    {
        return (int) $this->fields->get('Content-Length');
    }

    public function id(): ?string
    {
        return self::bare($this->fields->get('WARC-Record-ID'));
    }

    public function uri(): ?string
    {
        return self::bare($this->fields->get('WARC-Target-URI'));
    }

    public function refersTo(): ?string
    {
        return self::bare($this->fields->get('WARC-Refers-To'));
    }

    public function concurrentTo(): ?string
    {
        return self::bare($this->fields->get('WARC-Concurrent-To'));
    }

    public function date(): ?string
    {
        return $this->fields->get('WARC-Date');
    }

    public function contentType(): ?string
    {
        return $this->fields->get('Content-Type');
    }

    /** Whether the block is an HTTP message (clause 6.3.2). */
    public function isHttp(): bool
    {
        return $this->is(RecordType::Response, RecordType::Request, RecordType::Revisit)
            && 1 === preg_match('#^\s*application/http\b#i', $this->contentType() ?? '');
    }

    /** WARC 1.0 writers put angle brackets around addresses too. */
    private static function bare(?string $value): ?string
    {
        return null === $value ? null : preg_replace('/^<(.*)>$/s', '$1', trim($value));
    }
}
