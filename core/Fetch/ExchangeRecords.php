<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\FilePieces;
use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\ResourceFile;
use Ypomna\Core\Warc\WarcWriter;

/**
 * Writes exchanges as request and response records; of what is held already, a revisit record (ISO 28500:2017, clause 6.7).
 */
final class ExchangeRecords
{
    /** Says of an answer in a file of many pages that it was asked for as a page. */
    public const PAGE = ResourceFile::ASKED_AS;

    /** What is no larger is read at once. */
    private const SMALL = 262_144;
    private const IDENTICAL = 'http://netpreserve.org/warc/1.1/revisit/identical-payload-digest';
    /** A payload smaller than this is written again: a reference to it would take as much. */
    private const LEAST_SHARED = 1_024;
    /** So many are remembered of one file. */
    private const MOST_REMEMBERED = 100_000;

    /** @var array<string, KnownPayload> payloads that were written in this file, by SHA-256 */
    private array $written = [];

    /**
     * @param \Closure(): string $newId a new record id, `urn:uuid:…`, at each call
     * @param \Closure(string): ?KnownPayload|null $known says whether a payload is held already, by its SHA-256 in hex
     */
    public function __construct(private readonly \Closure $newId, private readonly ?\Closure $known = null)
    {
    }

    /**
     * @param string $info id of the file's warcinfo record
     * @param bool $isPage whether it is the page itself: that is always written whole
     * @param bool $marked whether its record says so
     *
     * @return array{string, int, bool} id of the response record, its offset, and whether it refers to an earlier one
     */
    public function write(WarcWriter $writer, Exchange $exchange, string $info, bool $isPage, bool $marked = false): array
    {
        $request = ($this->newId)();
        $response = ($this->newId)();
        $common = ['WARC-Target-URI' => $exchange->url, 'WARC-IP-Address' => $exchange->ip, 'WARC-Warcinfo-ID' => '<'.$info.'>'];
        [$block, $sent] = $this->message($exchange->requestPath, $exchange->requestBytes);
        $writer->write(RecordType::Request, $request, $exchange->at, [
            ...$common, 'WARC-Concurrent-To' => '<'.$response.'>', 'Content-Type' => 'application/http; msgtype=request',
            'WARC-Payload-Digest' => 'sha256:'.$sent,
        ], $block);
        [$block, $payload] = $this->message($exchange->responsePath, $exchange->responseBytes);
        $truncated = null === $exchange->messagesPath ? $exchange->truncated : null;
        $common += [
            'WARC-Concurrent-To' => '<'.$request.'>', 'Content-Type' => 'application/http; msgtype=response',
            'WARC-Payload-Digest' => 'sha256:'.$payload,
        ] + ($marked ? [self::PAGE => 'page'] : []);
        // The page itself is always whole; of its parts, what is held already is referred to.
        $known = $isPage || null !== $exchange->truncated || 200 !== $exchange->status || $exchange->responseBytes < self::LEAST_SHARED
            ? null
            : $this->known($payload);
        if (null !== $known) {
            $offset = $writer->write(RecordType::Revisit, $response, $exchange->at, [
                ...$common, 'WARC-Profile' => self::IDENTICAL, 'WARC-Refers-To-Target-URI' => $known->url,
                'WARC-Refers-To-Date' => WarcWriter::date($known->at),
            ], Block::ofString($this->head($exchange->responsePath)));
        } else {
            $offset = $writer->write(RecordType::Response, $response, $exchange->at, [...$common, 'WARC-Truncated' => $truncated], $block);
            if ($exchange->responseBytes >= self::LEAST_SHARED && null === $exchange->truncated
                && \count($this->written) < self::MOST_REMEMBERED) {
                $this->written[$payload] = new KnownPayload($exchange->url, $exchange->at);
            }
        }

        return [$response, $offset, null !== $known];
    }

    /**
     * Writes what was said on web sockets: a resource record for each address of one, concurrent to the answer that opened the first,
     * with what was said on all of them ({@see SocketLog}).
     *
     * @param list<Exchange> $exchanges
     * @param array<int, string> $ids of response records, by the number of their exchange
     */
    public function writeSockets(WarcWriter $writer, array $exchanges, array $ids, string $info): void
    {
        $sockets = [];
        foreach ($exchanges as $exchange) {
            if (null !== $exchange->messagesPath && isset($ids[$exchange->number]) && is_file($exchange->messagesPath)) {
                $sockets[$exchange->url][] = $exchange;
            }
        }
        foreach ($sockets as $url => $all) {
            $path = (string) $all[0]->messagesPath;
            foreach (\array_slice($all, 1) as $further) {
                foreach (FilePieces::ofFile((string) $further->messagesPath) as $piece) {
                    if (@file_put_contents($path, $piece, \FILE_APPEND) !== \strlen($piece)) {
                        throw new StorageFull('The disk took no more while sockets were being written down.');
                    }
                }
            }
            $block = Block::ofFile($path);
            $cut = array_reduce($all, static fn (?string $cut, Exchange $one): ?string => $cut ?? $one->truncated);
            $writer->write(RecordType::Resource, ($this->newId)(), $all[0]->at, [
                'WARC-Target-URI' => $url, 'WARC-IP-Address' => $all[0]->ip, 'WARC-Warcinfo-ID' => '<'.$info.'>',
                'WARC-Concurrent-To' => '<'.$ids[$all[0]->number].'>', 'Content-Type' => SocketLog::TYPE,
                'WARC-Payload-Digest' => 'sha256:'.$block->sha256, 'WARC-Truncated' => $cut,
            ], $block);
        }
    }

    private function known(string $payload): ?KnownPayload
    {
        $known = $this->written[$payload] ?? (null === $this->known ? null : ($this->known)($payload));

        return $known instanceof KnownPayload ? $known : null;
    }

    /** The head of an answer with all that came before its body, byte for byte. */
    private function head(string $path): string
    {
        $bytes = (string) file_get_contents($path, false, null, 0, 2 * MessageHead::MAX_BYTES);

        return substr($bytes, 0, Message::headLength($bytes));
    }

    /**
     * A message that was written down, and SHA-256 of its body with its chunked coding removed: the payload of clause 6.3.2.
     *
     * @return array{Block, string}
     */
    private function message(string $path, int $bytes): array
    {
        $small = $bytes <= self::SMALL ? @file_get_contents($path) : false;
        $context = hash_init('sha256');
        $message = Message::read(false === $small ? FilePieces::ofFile($path) : (static fn (): \Generator => yield $small)());
        foreach (null === $message->head ? [] : $message->body() as $piece) {
            hash_update($context, $piece);
        }

        return [false === $small ? Block::ofFile($path) : Block::ofString($small), hash_final($context)];
    }
}
