<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\ChunkedDecoder;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MimeSniffing;

/**
 * Reads a record's block once and computes every digest that is of interest, whatever its size (ISO 28500:2017, clauses
 * 5.8, 5.9 and 6.3.2).
 */
final class Inspector
{
    /**
     * @param bool $identify whether SHA-256 of block and payload are wanted, beside the digests that are declared
     */
    public static function inspect(Record $record, bool $identify = true): RecordFacts
    {
        $header = $record->header;
        $declared = $header->is(RecordType::Revisit) || $header->isSegment() ? [] : $header->fields->all('WARC-Payload-Digest');
        $block = new DigestSet($header->fields->all('WARC-Block-Digest'), $identify);
        if ($header->isHttp()) {
            return self::http($record, $block, $declared, $identify);
        }
        if ($header->isUntypedMessage()) {
            return self::http(
                $record, $block, $declared, $identify, new DigestSet($declared, $identify && $header->is(RecordType::Response)),
            );
        }
        $hasPayload = $header->is(RecordType::Resource, RecordType::Conversion, RecordType::Response);
        $payload = new DigestSet($declared, $identify && $hasPayload);
        foreach ($record->block() as $piece) {
            $block->update($piece);
            $payload->update($piece);
        }

        return new RecordFacts(
            $identify ? bin2hex($block->sha256()) : '', $identify && $hasPayload ? bin2hex($payload->sha256()) : null,
            self::verdict($block->verdict(), $payload->verdict()), null, $payload->bytes, null,
        );
    }

    /**
     * @param list<string> $declared
     * @param DigestSet|null $whole the block as the payload, where nothing says that it is a message: then its digest is that of the block,
     *     and a declared one may also be that of the body
     */
    private static function http(Record $record, DigestSet $block, array $declared, bool $identify, ?DigestSet $whole = null): RecordFacts
    {
        $message = Message::read((static function () use ($record, $block, $whole): \Generator {
            foreach ($record->block() as $piece) {
                $block->update($piece);
                $whole?->update($piece);
                yield $piece;
            }
        })());
        $header = $record->header;
        $identify = $identify && ($header->is(RecordType::Response) || ($header->is(RecordType::Request) && null !== $message->head));
        $decoder = true === $message->head?->isChunked() ? new ChunkedDecoder() : null;
        $framed = new DigestSet($declared, $identify);
        $plain = null === $decoder ? null : new DigestSet($declared, $identify);
        $beginning = '';
        foreach ($message->raw() as $piece) {
            $framed->update($piece);
            $beginning .= null === $decoder && \strlen($beginning) < MimeSniffing::BYTES ? substr($piece, 0, MimeSniffing::BYTES) : '';
            if (null === $decoder || null === $plain) {
                continue;
            }
            try {
                $pushed = $decoder->push($piece);
                $plain->update($pushed);
                $beginning .= \strlen($beginning) < MimeSniffing::BYTES ? substr($pushed, 0, MimeSniffing::BYTES) : '';
            } catch (MalformedMessage) {
                // Chunked coding that cannot be taken off stays.
                $decoder = $plain = null;
            }
        }
        if (true === $decoder?->neverBegan()) {
            $plain = null;
        }
        $payload = $plain ?? $framed;
        if (null !== $whole) {
            return new RecordFacts(
                $block->wantsSha256 ? bin2hex($block->sha256()) : '', $whole->wantsSha256 ? bin2hex($whole->sha256()) : null,
                self::verdict($block->verdict(), $whole->verdict($payload, $framed)), $message->head, $whole->bytes, null, $beginning,
            );
        }
        // A revisit may do without the head of its answer (clause 6.7.2).
        $isSound = $message->complete || ($header->is(RecordType::Revisit) && 0 === $header->contentLength());

        return new RecordFacts(
            $block->wantsSha256 ? bin2hex($block->sha256()) : '', $identify ? bin2hex($payload->sha256()) : null,
            self::verdict($block->verdict(), $payload->verdict($framed)), $message->head, $payload->bytes,
            $isSound
                ? null
                : (null === $message->head ? 'The block is said to be an HTTP message, but has no head that can be read' : 'The head of'
                    .' the HTTP message does not end'),
            $beginning,
        );
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
