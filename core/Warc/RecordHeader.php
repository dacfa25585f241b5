<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\Fields;

/**
 * Version line and named fields of a record: ISO 28500:2017, clauses 4 and 5.
 */
final readonly class RecordHeader
{
    private string $type;
    private ?RecordType $kind;

    public function __construct(public string $version, public Fields $fields)
    {
        $this->type = strtolower($fields->get('WARC-Type') ?? '');
        $this->kind = RecordType::tryFrom($this->type);
    }

    /**
     * @param string $bytes with the version line and the empty line at its end
     *
     * @throws WarcError if that is no header of a record
     */
    public static function parse(string $bytes, int $offset): self
    {
        [$line, $rest] = explode("\n", $bytes, 2) + ['', ''];
        if (1 !== preg_match('#^WARC/(\d+\.\d+)\s*$#D', $line, $m)) {
            throw new WarcError(
                WarcFindingCode::Garbage,
                $offset,
                \sprintf('A record should begin here, but “%s” stands there', mb_strimwidth(mb_scrub(rtrim($line)), 0, 60, '…')),
            );
        }

        return new self($m[1], Fields::parse($rest));
    }

    /** Lower case, as it stands; '' if it is missing. */
    public function type(): string
    {
        return $this->type;
    }

    public function is(RecordType ...$types): bool
    {
        return \in_array($this->kind, $types, true);
    }

    /** Length of the block in bytes, as the record says; null if it gives none that can be understood. */
    public function contentLength(): ?int
    {
        $length = $this->fields->get('Content-Length');

        return null !== $length && ctype_digit($length) && \strlen($length) < 19 ? (int) $length : null;
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

    /** Media type of the block without parameters, in lower case. */
    public function mime(): ?string
    {
        $type = strtolower(trim(explode(';', $this->contentType() ?? '')[0]));

        return '' === $type ? null : $type;
    }

    /** Whether the block is said to be an HTTP message (clause 6.3.2). */
    public function isHttp(): bool
    {
        return $this->mayBeHttp() && 1 === preg_match('#^\s*application/http\b#i', $this->contentType() ?? '');
    }

    /** Whether the block may be one though nothing is said of its type: then it is found out from its beginning (clause 5.6). */
    public function isUntypedMessage(): bool
    {
        return $this->mayBeHttp() && '' === trim($this->contentType() ?? '') && 1 === preg_match('#^https?://#i', $this->uri() ?? '');
    }

    private function mayBeHttp(): bool
    {
        return $this->is(RecordType::Response, RecordType::Request, RecordType::Revisit);
    }

    /** Whether the block is a piece of a record that was cut into several (clause 7.2): its payload digest is that of the whole. */
    public function isSegment(): bool
    {
        return $this->is(RecordType::Continuation) || null !== $this->fields->get('WARC-Segment-Number');
    }

    /** Id of the first piece of the record that this is a further piece of. */
    public function segmentOf(): ?string
    {
        return self::bare($this->fields->get('WARC-Segment-Origin-ID'));
    }

    /** WARC 1.0 writers put angle brackets around addresses too. */
    private static function bare(?string $value): ?string
    {
        return null !== $value && str_starts_with($value, '<') && str_ends_with($value, '>') && '<' !== $value
            ? substr($value, 1, -1)
            : $value;
    }
}
