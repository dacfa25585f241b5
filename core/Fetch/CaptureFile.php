<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\Writer;

/**
 * Writes one capture as one WARC/1.1 file: who made it and how; request and answer of every exchange; what the browser
 * made of the page; and a record with the name servers' answers, the certificates and the state of the clock.
 *
 * The page's own answer is the record that the others refer to: the rendered document, text and picture by
 * WARC-Refers-To (ISO 28500:2017, clause 5.7), each request and the metadata by WARC-Concurrent-To (clause 5.6).
 */
final class CaptureFile
{
    private const STEP = 65_536;

    private const IDENTICAL = 'http://netpreserve.org/warc/1.1/revisit/identical-payload-digest';
    /** A payload smaller than this is written again: a reference to it would take as much. */
    private const LEAST_SHARED = 1_024;

    /** @var array<string, KnownPayload> payloads that were written in this file, by SHA-256 */
    private array $written = [];
    private ?Writer $writer = null;
    private string $info = '';

    /**
     * @param \Closure(): string                   $newId a new record id, `urn:uuid:…`, at each call
     * @param \Closure(string): ?KnownPayload|null $known says whether a payload is held already, by its SHA-256 in hex
     */
    public function __construct(private readonly \Closure $newId, private readonly ?\Closure $known = null, private readonly bool $packed = true)
    {
    }

    /**
     * @param resource       $out
     * @param list<Exchange> $exchanges
     * @param Exchange       $main      the one that brought the page
     *
     * @return string id of the record that holds the page's answer
     *
     * @throws \RuntimeException if it cannot be written
     */
    public function write($out, string $fileName, array $exchanges, Exchange $main, Rendering $rendering, CaptureFacts $facts): string
    {
        $writer = $this->writer = new Writer($out, $this->packed);
        $info = ($this->newId)();
        $writer->write(RecordType::Warcinfo, $info, $main->at, ['WARC-Filename' => $fileName, 'Content-Type' => 'application/warc-fields'], Block::ofString(
            'software: '.$facts->software."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\n"
            .'operator: '.$facts->agent."\r\nhow: ".$facts->how."\r\nhttp-header-user-agent: ".$facts->browser."\r\n",
        ));
        $ids = [];
        foreach ($exchanges as $exchange) {
            if ($exchange->isAnswered()) {
                $ids[$exchange->number] = $this->exchange($writer, $exchange, $info, $exchange === $main);
            }
        }
        $this->info = $info;
        $page = $ids[$main->number] ?? throw new \RuntimeException('The page itself was not answered; there is nothing to write.');
        $this->rendering($writer, $rendering, $main, $page, $info);
        foreach ($rendering->frames as $frame) {
            $of = null;
            foreach ($exchanges as $exchange) {
                $of = $exchange->url === $frame['url'] && isset($ids[$exchange->number]) ? $ids[$exchange->number] : $of;
            }
            $this->conversion($writer, RecordType::Conversion, 'text/html; charset=utf-8', $frame['dom'], $main, $frame['url'], $of ?? $page, $info);
        }
        $writer->write(RecordType::Metadata, ($this->newId)(), $main->at, [
            'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$info.'>', 'Content-Type' => 'application/json',
        ], Block::ofString(json_encode($this->metadata($exchanges, $page, $facts, $rendering), \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE)));

        return $page;
    }

    /**
     * Writes parts that an earlier capture lacks, each with its own moment.
     *
     * @param resource             $out
     * @param list<Exchange>       $exchanges
     * @param array<string, mixed> $completes the capture that they belong to: `capture`, `url`, `at`
     *
     * @return int how many answers were written
     */
    public function writeParts($out, string $fileName, array $exchanges, array $completes, CaptureFacts $facts, \DateTimeImmutable $at): int
    {
        $writer = new Writer($out, $this->packed);
        $info = ($this->newId)();
        $writer->write(RecordType::Warcinfo, $info, $at, ['WARC-Filename' => $fileName, 'Content-Type' => 'application/warc-fields'], Block::ofString(
            'software: '.$facts->software."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\n"
            .'operator: '.$facts->agent."\r\nhow: ".$facts->how."\r\nhttp-header-user-agent: ".$facts->browser."\r\n",
        ));
        $written = 0;
        foreach ($exchanges as $exchange) {
            if ($exchange->isAnswered()) {
                $this->exchange($writer, $exchange, $info, false);
                ++$written;
            }
        }
        $about = $this->metadata($exchanges, '', $facts, new Rendering());
        unset($about['page'], $about['title']);
        $writer->write(RecordType::Metadata, ($this->newId)(), $at, ['WARC-Target-URI' => $facts->requestedUrl, 'WARC-Warcinfo-ID' => '<'.$info.'>', 'Content-Type' => 'application/json'], Block::ofString(json_encode(['completes' => $completes] + $about, \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE)));

        return $written;
    }

    /** @return string id of the response record */
    private function exchange(Writer $writer, Exchange $exchange, string $info, bool $isPage): string
    {
        $request = ($this->newId)();
        $response = ($this->newId)();
        $common = ['WARC-Target-URI' => $exchange->url, 'WARC-IP-Address' => $exchange->ip, 'WARC-Warcinfo-ID' => '<'.$info.'>'];
        $writer->write(RecordType::Request, $request, $exchange->at, [
            ...$common, 'WARC-Concurrent-To' => '<'.$response.'>', 'Content-Type' => 'application/http; msgtype=request',
            'WARC-Payload-Digest' => 'sha256:'.$this->payload($exchange->requestPath),
        ], Block::ofFile($exchange->requestPath));
        $payload = $this->payload($exchange->responsePath);
        $common += ['WARC-Concurrent-To' => '<'.$request.'>', 'Content-Type' => 'application/http; msgtype=response', 'WARC-Payload-Digest' => 'sha256:'.$payload];
        // The page itself is always whole; of its parts, what is held already is referred to.
        $known = $isPage || null !== $exchange->truncated || 200 !== $exchange->status || $exchange->responseBytes < self::LEAST_SHARED ? null : $this->known($payload);
        if (null !== $known) {
            $writer->write(RecordType::Revisit, $response, $exchange->at, [
                ...$common, 'WARC-Profile' => self::IDENTICAL, 'WARC-Refers-To-Target-URI' => $known->url, 'WARC-Refers-To-Date' => Writer::date($known->at),
            ], Block::ofString($this->head($exchange->responsePath)));
        } else {
            $writer->write(RecordType::Response, $response, $exchange->at, [...$common, 'WARC-Truncated' => $exchange->truncated], Block::ofFile($exchange->responsePath));
            $this->written[$payload] = new KnownPayload($exchange->url, $exchange->at);
        }

        return $response;
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

    private function rendering(Writer $writer, Rendering $rendering, Exchange $main, string $page, string $info): void
    {
        $parts = [];
        if (null !== $rendering->dom) {
            $parts[] = [RecordType::Conversion, 'text/html; charset=utf-8', $rendering->dom];
        }
        if (null !== $rendering->text) {
            $parts[] = [RecordType::Conversion, 'text/plain; charset=utf-8', $rendering->text];
        }
        foreach ($rendering->pictures as $picture) {
            $parts[] = [RecordType::Conversion, 'image/png', $picture];
        }
        foreach ($parts as [$type, $contentType, $path]) {
            $this->conversion($writer, $type, $contentType, $path, $main, $main->url, $page, $info);
        }
    }

    private function conversion(Writer $writer, RecordType $type, string $contentType, string $path, Exchange $main, string $url, string $of, string $info): void
    {
        $block = Block::ofFile($path);
        $writer->write($type, ($this->newId)(), $main->at, [
            'WARC-Target-URI' => $url, 'WARC-Refers-To' => '<'.$of.'>', 'WARC-Warcinfo-ID' => '<'.$info.'>',
            'Content-Type' => $contentType, 'WARC-Payload-Digest' => 'sha256:'.$block->sha256,
        ], $block);
    }

    /**
     * Adds what the check of the capture said, when it is known.
     *
     * @param array<string, mixed> $facts
     */
    public function judged(string $page, Exchange $main, array $facts): void
    {
        $this->writer?->write(RecordType::Metadata, ($this->newId)(), $main->at, [
            'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$this->info.'>', 'Content-Type' => 'application/json',
        ], Block::ofString(json_encode(['completeness' => $facts], \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE)));
    }

    /** SHA-256 of a message's body with its chunked coding removed: the payload of clause 6.3.2. */
    private function payload(string $path): string
    {
        $context = hash_init('sha256');
        $message = Message::read(self::pieces($path));
        foreach (null === $message->head ? [] : $message->body() as $piece) {
            hash_update($context, $piece);
        }

        return hash_final($context);
    }

    /**
     * @return \Generator<int, string>
     */
    private static function pieces(string $path): \Generator
    {
        $handle = fopen($path, 'r');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be read.', $path));
        }
        try {
            while ('' !== ($piece = (string) fread($handle, self::STEP))) {
                yield $piece;
            }
        } finally {
            fclose($handle);
        }
    }

    /**
     * @param list<Exchange> $exchanges
     *
     * @return array<string, mixed>
     */
    private function metadata(array $exchanges, string $page, CaptureFacts $facts, Rendering $rendering): array
    {
        $unanswered = [];
        foreach ($exchanges as $exchange) {
            if (!$exchange->isAnswered() || null !== $exchange->failure) {
                $unanswered[] = ['url' => $exchange->url, 'reason' => $exchange->failure?->value, 'message' => $exchange->message];
            }
        }

        return [
            'requested' => $facts->requestedUrl, 'final' => $facts->finalUrl, 'page' => $page, 'title' => $facts->title, 'how' => $facts->how,
            'agent' => $facts->agent, 'software' => $facts->software, 'browser' => $facts->browser, 'clock' => $facts->clock,
            'dns' => array_map(static fn (DnsAnswer $answer): array => [
                'host' => $answer->host, 'status' => $answer->status->value, 'source' => $answer->source, 'addresses' => $answer->addresses, 'records' => $answer->records,
            ], $facts->dns),
            'certificates' => $facts->certificates, 'distrusted' => $facts->distrusted, 'robots' => $facts->robots,
            'secretsOverwritten' => $facts->overwritten, 'unanswered' => $unanswered, 'notRendered' => $rendering->failures,
        ];
    }
}
