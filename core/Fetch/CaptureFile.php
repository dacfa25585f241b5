<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcWriter;

/**
 * Writes one capture as one WARC/1.1 file: who made it and how; request and answer of every exchange; what the browser
 * made of the page; and a record with the name servers' answers, the certificates and the state of the clock.
 *
 * The page's own answer is the record that the others refer to: the rendered document, text and picture by
 * WARC-Refers-To (ISO 28500:2017, clause 5.7), each request and the metadata by WARC-Concurrent-To (clause 5.6).
 */
final class CaptureFile
{
    private readonly ExchangeRecords $records;
    private ?WarcWriter $writer = null;
    private string $info = '';

    /**
     * @param \Closure(): string $newId a new record id, `urn:uuid:…`, at each call
     * @param \Closure(string): ?KnownPayload|null $known says whether a payload is held already, by its SHA-256 in hex
     */
    public function __construct(private readonly \Closure $newId, ?\Closure $known = null, private readonly bool $packed = true)
    {
        $this->records = new ExchangeRecords($newId, $known);
    }

    /**
     * @param resource $out
     * @param list<Exchange> $exchanges
     * @param Exchange $main the one that brought the page
     *
     * @return string id of the record that holds the page's answer
     *
     * @throws \RuntimeException if it cannot be written
     */
    public function write($out, string $fileName, array $exchanges, Exchange $main, Rendering $rendering, CaptureFacts $facts): string
    {
        $writer = $this->writer = new WarcWriter($out, $this->packed);
        $info = ($this->newId)();
        $writer->write(RecordType::Warcinfo, $info, $main->at, [
            'WARC-Filename' => $fileName, 'Content-Type' => 'application/warc-fields',
        ], Block::ofString(
            'software: '.$facts->software."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\n"
            .'operator: '.$facts->agent."\r\nhow: ".$facts->how."\r\nhttp-header-user-agent: ".$facts->browser."\r\n",
        ));
        $ids = [];
        foreach ($exchanges as $exchange) {
            if ($exchange->isAnswered()) {
                $ids[$exchange->number] = $this->records->write($writer, $exchange, $info, $exchange === $main)[0];
            }
        }
        $this->records->writeSockets($writer, $exchanges, $ids, $info);
        $this->info = $info;
        $page = $ids[$main->number] ?? throw new \RuntimeException('The page itself was not answered; there is nothing to write.');
        $this->rendering($writer, $rendering, $main, $page, $info);
        foreach ($rendering->frames as $frame) {
            $of = null;
            foreach ($exchanges as $exchange) {
                $of = $exchange->url === $frame['url'] && isset($ids[$exchange->number]) ? $ids[$exchange->number] : $of;
            }
            $this->conversion(
                $writer, RecordType::Conversion, 'text/html; charset=utf-8', $frame['dom'], $main, $frame['url'], $of ?? $page, $info,
            );
        }
        $writer->write(RecordType::Metadata, ($this->newId)(), $main->at, [
            'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$info.'>',
            'Content-Type' => 'application/json',
        ], Block::ofString(json_encode(
            $this->metadata($exchanges, $page, $facts, $rendering),
            \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        )));
        if ([] !== $facts->overwritten) {
            $writer->write(RecordType::Metadata, ($this->newId)(), $main->at, [
                'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$info.'>',
                'Content-Type' => 'application/json',
            ], Block::ofString(json_encode(
                ['overwritten' => array_map(
                    static fn (Overwritten $one): array => $one->facts($ids[$one->number] ?? $page), $facts->overwritten,
                )],
                \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
            )));
        }

        return $page;
    }

    /**
     * Writes parts that an earlier capture lacks, each with its own moment.
     *
     * @param resource $out
     * @param list<Exchange> $exchanges
     * @param array<string, mixed> $completes the capture that they belong to: `capture`, `url`, `at`
     *
     * @return int how many answers were written
     */
    public function writeParts($out, string $fileName, array $exchanges, array $completes, CaptureFacts $facts, \DateTimeImmutable $at): int
    {
        $writer = new WarcWriter($out, $this->packed);
        $info = ($this->newId)();
        $writer->write(RecordType::Warcinfo, $info, $at, [
            'WARC-Filename' => $fileName, 'Content-Type' => 'application/warc-fields',
        ], Block::ofString(
            'software: '.$facts->software."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\n"
            .'operator: '.$facts->agent."\r\nhow: ".$facts->how."\r\nhttp-header-user-agent: ".$facts->browser."\r\n",
        ));
        $written = 0;
        foreach ($exchanges as $exchange) {
            if ($exchange->isAnswered()) {
                $this->records->write($writer, $exchange, $info, false);
                ++$written;
            }
        }
        $about = $this->metadata($exchanges, '', $facts, new Rendering());
        unset($about['page'], $about['title']);
        $writer->write(
            RecordType::Metadata,
            ($this->newId)(),
            $at,
            ['WARC-Target-URI' => $facts->requestedUrl, 'WARC-Warcinfo-ID' => '<'.$info.'>', 'Content-Type' => 'application/json'],
            Block::ofString(json_encode(
                ['completes' => $completes] + $about,
                \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES
                    | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
            )),
        );

        return $written;
    }

    private function rendering(WarcWriter $writer, Rendering $rendering, Exchange $main, string $page, string $info): void
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

    private function conversion(
        WarcWriter $writer,
        RecordType $type,
        string $contentType,
        string $path,
        Exchange $main,
        string $url,
        string $of,
        string $info,
    ): void {
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
            'WARC-Target-URI' => $main->url, 'WARC-Concurrent-To' => '<'.$page.'>', 'WARC-Warcinfo-ID' => '<'.$this->info.'>',
            'Content-Type' => 'application/json',
        ], Block::ofString(json_encode(
            ['completeness' => $facts],
            \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        )));
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
            'requested' => $facts->requestedUrl, 'final' => $facts->finalUrl, 'page' => $page, 'title' => $facts->title,
            'how' => $facts->how,
            'agent' => $facts->agent, 'software' => $facts->software, 'browser' => $facts->browser, 'clock' => $facts->clock,
            'dns' => array_map(static fn (DnsAnswer $answer): array => [
                'host' => $answer->host, 'status' => $answer->status->value, 'source' => $answer->source, 'addresses' => $answer->addresses,
                'records' => $answer->records,
            ], $facts->dns),
            'certificates' => $facts->certificates, 'distrusted' => $facts->distrusted, 'robots' => $facts->robots,
            'secretsOverwritten' => array_sum(array_map(static fn (Overwritten $one): int => \count($one->places), $facts->overwritten)),
            'unanswered' => $unanswered, 'notRendered' => $rendering->failures,
        ];
    }
}
