<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcWriter;

/** Puts WARC files together for tests. */
final class WarcBuilder
{
    /** @var resource */
    private $stream;
    private WarcWriter $writer;
    private int $count = 0;
    /** @var list<int> */
    public array $offsets = [];

    public function __construct(private readonly string $seed = 'a')
    {
        $stream = fopen('php://temp', 'w+');
        \assert(false !== $stream);
        $this->stream = $stream;
        $this->writer = new WarcWriter($stream);
    }

    public function id(int $number): string
    {
        $hash = hash('sha256', $this->seed.$number);

        return \sprintf(
            'urn:uuid:%s-%s-4%s-8%s-%s', substr($hash, 0, 8), substr($hash, 8, 4), substr($hash, 13, 3), substr($hash, 17, 3),
            substr($hash, 20, 12),
        );
    }

    /**
     * A request and its answer.
     *
     * @param list<string> $fields of the answer
     */
    public function exchange(
        string $url,
        string $at,
        string $body,
        string $type = 'text/html; charset=utf-8',
        int $status = 200,
        array $fields = [],
        ?string $destination = null,
        string $method = 'GET',
    ): self {
        $date = new \DateTimeImmutable($at);
        [$request, $response] = [$this->id(++$this->count), $this->id(++$this->count)];
        $ask = "{$method} / HTTP/1.1\r\nHost: x.test\r\n".(null === $destination ? '' : "Sec-Fetch-Dest: {$destination}\r\n")."\r\n";
        $this->offsets[] = $this->writer->write(
            RecordType::Request,
            $request,
            $date,
            ['WARC-Target-URI' => $url, 'WARC-Concurrent-To' => '<'.$response.'>', 'Content-Type' => 'application/http; msgtype=request'],
            Block::ofString($ask),
        );
        $head = "HTTP/1.1 {$status} Said\r\nContent-Type: {$type}\r\nContent-Length: ".\strlen($body)."\r\n"
            .implode('', array_map(static fn (string $field): string => $field."\r\n", $fields))."\r\n";
        $this->offsets[] = $this->writer->write(RecordType::Response, $response, $date, [
            'WARC-Target-URI' => $url, 'WARC-Concurrent-To' => '<'.$request.'>', 'Content-Type' => 'application/http; msgtype=response',
            'WARC-Payload-Digest' => 'sha256:'.hash('sha256', $body),
        ], Block::ofString($head.$body));

        return $this;
    }

    /**
     * A record whose content is another one's.
     *
     * @param array<string, string> $fields that say which
     * @param string $head of the answer; empty if there is none
     */
    public function revisit(
        string $url,
        string $at,
        array $fields,
        string $head = "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n",
    ): self {
        $this->offsets[] = $this->writer->write(RecordType::Revisit, $this->id(++$this->count + 2_000), new \DateTimeImmutable($at), [
            'WARC-Target-URI' => $url, 'WARC-Profile' => 'http://netpreserve.org/warc/1.1/revisit/identical-payload-digest',
            'Content-Type' => 'application/http; msgtype=response', ...$fields,
        ], Block::ofString($head));

        return $this;
    }

    /** Something without request and answer. */
    public function resource(string $url, string $at, string $body, string $type): self
    {
        $this->offsets[] = $this->writer->write(RecordType::Resource, $this->id(++$this->count + 3_000), new \DateTimeImmutable($at), [
            'WARC-Target-URI' => $url, 'Content-Type' => $type,
        ], Block::ofString($body));

        return $this;
    }

    /** What the browser made of the answer written last. */
    public function rendered(string $url, string $at, string $html, string $contentType = 'text/html; charset=utf-8'): self
    {
        $this->offsets[] = $this->writer->write(RecordType::Conversion, $this->id(++$this->count + 1_000), new \DateTimeImmutable($at), [
            'WARC-Target-URI' => $url, 'WARC-Refers-To' => '<'.$this->lastResponse().'>', 'Content-Type' => $contentType,
        ], Block::ofString($html));

        return $this;
    }

    /** What is said of the answer written last. */
    public function said(string $url, string $at, string $json): self
    {
        $this->offsets[] = $this->writer->write(RecordType::Metadata, $this->id(++$this->count + 3_000), new \DateTimeImmutable($at), [
            'WARC-Target-URI' => $url, 'WARC-Concurrent-To' => '<'.$this->lastResponse().'>', 'Content-Type' => 'application/json',
        ], Block::ofString($json));

        return $this;
    }

    private function lastResponse(): string
    {
        for ($n = $this->count; $n > 0; --$n) {
            if (0 === $n % 2) {
                return $this->id($n);
            }
        }

        return '';
    }

    public function bytes(): string
    {
        rewind($this->stream);

        return (string) stream_get_contents($this->stream);
    }
}
