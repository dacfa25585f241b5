<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\Message;

/**
 * A revisit record (ISO 28500:2017, clause 6.7) written as the response that it stands for, for readers who are not to have the record
 * that it refers to. It keeps its id, moment and address, and its own head where that fits the body; it no longer names another record.
 */
final class InFull
{
    private const GONE = [
        'warc-type', 'warc-record-id', 'warc-date', 'warc-profile', 'warc-refers-to', 'warc-refers-to-target-uri', 'warc-refers-to-date',
        'warc-truncated', 'warc-block-digest', 'content-length', 'content-type',
    ];
    private const LARGEST_HEAD = 1_048_576;

    /**
     * @param \Closure(): Record $original opens the record that has the body; called twice, since length and digest come first
     *
     * @return \Generator<int, string> one gzip member
     *
     * @throws WarcError if one of the two cannot be read
     */
    public static function record(Record $revisit, \Closure $original): \Generator
    {
        $own = '';
        foreach ($revisit->block() as $piece) {
            $own .= $piece;
            if (\strlen($own) > self::LARGEST_HEAD) {
                break;
            }
        }
        $length = 0;
        $digest = hash_init('sha256');
        foreach (self::block($own, $original()) as $piece) {
            $length += \strlen($piece);
            hash_update($digest, $piece);
        }
        $lines = [
            'WARC-Type: response', 'WARC-Record-ID: <'.($revisit->header->id() ?? 'urn:sha256:'.hash('sha256', $revisit->head)).'>',
            'WARC-Date: '.$revisit->header->date(),
        ];
        foreach ($revisit->header->fields->lines as [$name, $value]) {
            if (!\in_array(strtolower($name), self::GONE, true)) {
                $lines[] = $name.': '.preg_replace('/[\r\n]+/', ' ', $value);
            }
        }
        $lines[] = 'Content-Type: application/http;msgtype=response';
        $lines[] = 'WARC-Block-Digest: sha256:'.hash_final($digest);
        $lines[] = 'Content-Length: '.$length;

        return self::packed("WARC/1.1\r\n".implode("\r\n", $lines)."\r\n\r\n", self::block($own, $original()));
    }

    /**
     * @param iterable<string> $block
     *
     * @return \Generator<int, string>
     */
    private static function packed(string $header, iterable $block): \Generator
    {
        $deflater = deflate_init(\ZLIB_ENCODING_GZIP, ['level' => 6]);
        if (false === $deflater) {
            throw new \RuntimeException('The gzip coder cannot be started.');
        }
        $pieces = (static function () use ($header, $block): \Generator {
            yield $header;
            yield from $block;
        })();
        foreach ($pieces as $piece) {
            $packed = (string) deflate_add($deflater, $piece, \ZLIB_NO_FLUSH);
            if ('' !== $packed) {
                yield $packed;
            }
        }
        yield (string) deflate_add($deflater, "\r\n\r\n", \ZLIB_FINISH);
    }

    /**
     * @param string $own the revisit's block
     *
     * @return \Generator<int, string>
     */
    private static function block(string $own, Record $original): \Generator
    {
        $whole = Message::read($original->block());
        $head = Message::read((static function () use ($own): \Generator { yield $own; })());
        $fits = null !== $head->head && null !== $head->head->status && 304 !== $head->head->status
            && $head->head->isChunked() === (true === $whole->head?->isChunked())
            && $head->head->fields->tokens('Content-Encoding') === ($whole->head?->fields->tokens('Content-Encoding') ?? []);
        $bytes = rtrim($fits ? $head->headBytes : $whole->headBytes, "\r\n");
        yield '' === $bytes ? '' : $bytes."\r\n\r\n";
        yield from $whole->raw();
    }
}
