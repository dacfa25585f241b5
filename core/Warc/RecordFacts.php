<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\MessageHead;

/**
 * What one pass over a record's block has found out.
 */
final readonly class RecordFacts
{
    public function __construct(
        /** Hex. */
        public string $blockSha256,
        /** Hex: the body without chunked coding, or the block of a resource or conversion; null of other records. */
        public ?string $payloadSha256,
        public DigestVerdict $digest,
        /** Of the final answer, or of the request; null if the block is no HTTP message. */
        public ?MessageHead $http,
        /** Length of the payload in bytes, chunked coding taken off. */
        public int $payloadBytes,
        /** What is wrong with the block as an HTTP message, in words. */
        public ?string $problem,
        /** Of the body of an HTTP message, chunked coding taken off: as much as tells what it is where nothing says so. */
        public string $beginning = '',
    ) {
    }
}
