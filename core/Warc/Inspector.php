<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\ChunkedDecoder;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/**
 * Reads a record's block once and computes every digest that is of interest, whatever its size.
 */
final class Inspector
{
    public static function inspect(Record $record): RecordFacts
    {
        $header = $record->header;
        $block = new DigestSet($header->fields->all('WARC-Block-Digest'));
        $payload = new DigestSet($header->is(RecordType::Revisit) ? [] : $header->fields->all('WARC-Payload-Digest'));
        $framed = new DigestSet($header->is(RecordType::Revisit) ? [] : $header->fields->all('WARC-Payload-Digest'));
        $http = $header->isHttp() ? new self() : null;
        foreach ($record->block() as $piece) {
            $block->update($piece);
            if (null === $http) {
                $payload->update($piece);
                continue;
            }
            foreach ($http->body($piece) as [$raw, $decoded]) {
                $framed->update($raw);
                $payload->update($decoded);
            }
        }
        $whole = null === $http && $header->is(RecordType::Resource, RecordType::Conversion, RecordType::Response);
        $hasPayload = $whole || (null !== $http && $header->is(RecordType::Response, RecordType::Request) && null !== $http->head);

        return new RecordFacts(
            bin2hex($block->sha256()),
            $hasPayload ? bin2hex($payload->sha256()) : null,
            self::verdict($block->verdict(), $payload->verdict($framed)),
            $http?->head,
            $payload->bytes,
            null !== $http && null === $http->head ? 'The block is said to be an HTTP message, but has no readable head.' : null,
        );
    }

    private ?MessageHead $head = null;
    private string $pending = '';
    private bool $hopeless = false;
    private ?ChunkedDecoder $chunked = null;

    private function __construct()
    {
    }

    /**
     * @return list<array{string, string}> pieces of the body: as they stand, and with chunked coding taken off
     */
    private function body(string $piece): array
    {
        if (null === $this->head && !$this->hopeless) {
            $this->pending .= $piece;
            $piece = '';
            while (null !== ($end = MessageHead::end($this->pending))) {
                try {
                    $head = MessageHead::parse(substr($this->pending, 0, $end));
                } catch (MalformedMessage) {
                    $this->hopeless = true;
                    break;
                }
                $this->pending = substr($this->pending, $end);
                // Interim answers come before the one that counts: RFC 9110 section 15.2.
                if (null === $head->status || $head->status >= 200 || 101 === $head->status) {
                    $this->head = $head;
                    $this->chunked = $head->isChunked() ? new ChunkedDecoder() : null;
                    $piece = $this->pending;
                    $this->pending = '';
                    break;
                }
            }
            $this->hopeless = $this->hopeless || (null === $this->head && \strlen($this->pending) > MessageHead::MAX_BYTES);
        }
        if ('' === $piece || null === $this->head) {
            return [];
        }
        if (null === $this->chunked) {
            return [[$piece, $piece]];
        }
        try {
            return [[$piece, $this->chunked->push($piece)]];
        } catch (MalformedMessage) {
            $this->chunked = null;

            return [[$piece, $piece]];
        }
    }

    private static function verdict(DigestVerdict ...$verdicts): DigestVerdict
    {
        foreach ([DigestVerdict::Mismatch, DigestVerdict::Ok, DigestVerdict::Unsupported] as $verdict) {
            if (\in_array($verdict, $verdicts, true)) {
                return $verdict;
            }
        }

        return DigestVerdict::Absent;
    }
}
