<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

use Ypomna\App\Network\Stream;

/**
 * What a stand-in server sends: its fields are sent exactly as they are given, and it can misbehave on request.
 */
final class Response
{
    /** @var \Closure(): iterable<string>|null */
    private ?\Closure $stream = null;
    private bool $chunked = false;
    private bool $gzip = false;
    private ?int $cutAt = null;
    private bool $reset = false;
    private ?string $raw = null;
    private float $delay = 0.0;
    private ?int $length = null;
    /** @var \Closure(Stream, string): void|null */
    private ?\Closure $talk = null;

    /**
     * @param list<array{string, string}> $fields
     */
    public function __construct(
        private readonly int $status,
        private array $fields,
        private readonly string $body,
        private readonly string $reason = '',
    ) {
    }

    public static function html(string $html, int $status = 200, string $charset = 'utf-8'): self
    {
        return new self($status, [['Content-Type', 'text/html; charset='.$charset]], $html);
    }

    public static function redirect(string $to, int $status = 301): self
    {
        return new self(
            $status, [['Location', $to], ['Content-Type', 'text/html']], '<p>See <a href="'.htmlspecialchars($to).'">here</a>.',
        );
    }

    public static function of(string $type, string $body): self
    {
        return new self(200, [['Content-Type', $type]], $body);
    }

    /** These very bytes, head and all. */
    public static function raw(string $bytes): self
    {
        $response = new self(200, [], '');
        $response->raw = $bytes;

        return $response;
    }

    /**
     * What comes behind the head is said by turns, as on a web socket.
     *
     * @param \Closure(Stream, string): void $talk told the connection, and what has come of it already
     */
    public static function talked(string $head, \Closure $talk): self
    {
        $response = self::raw($head);
        $response->talk = $talk;

        return $response;
    }

    /** @return \Closure(Stream, string): void|null */
    public function talk(): ?\Closure
    {
        return $this->talk;
    }

    /**
     * A long body that is made as it is sent.
     *
     * @param \Closure(): iterable<string> $stream
     */
    public static function streamed(string $type, int $length, \Closure $stream): self
    {
        $response = new self(200, [['Content-Type', $type]], '');
        $response->stream = $stream;
        $response->length = $length;

        return $response;
    }

    public function with(string $name, string $value): self
    {
        $this->fields[] = [$name, $value];

        return $this;
    }

    public function chunked(): self
    {
        $this->chunked = true;

        return $this;
    }

    public function gzip(): self
    {
        $this->gzip = true;

        return $this;
    }

    /** Breaks off behind that many bytes of the body, though its length was announced. */
    public function cutAt(int $bytes, bool $reset = false): self
    {
        $this->cutAt = $bytes;
        $this->reset = $reset;

        return $this;
    }

    public function after(float $seconds): self
    {
        $this->delay = $seconds;

        return $this;
    }

    public function status(): int
    {
        return $this->status;
    }

    public function delay(): float
    {
        return $this->delay;
    }

    public function resets(): bool
    {
        return $this->reset;
    }

    public function closes(): bool
    {
        return $this->reset || null !== $this->cutAt || null !== $this->raw;
    }

    /**
     * @return \Generator<int, string> head and body as they go over the wire
     */
    public function bytes(string $method, \DateTimeImmutable $now): \Generator
    {
        if (null !== $this->raw) {
            yield $this->raw;

            return;
        }
        $body = $this->gzip ? (string) gzencode($this->body, 6) : $this->body;
        $fields = [['Date', $now->format('D, d M Y H:i:s').' GMT'], ...$this->fields];
        if ($this->gzip) {
            $fields[] = ['Content-Encoding', 'gzip'];
        }
        $fields[] = $this->chunked ? ['Transfer-Encoding', 'chunked'] : ['Content-Length', (string) ($this->length ?? \strlen($body))];
        yield 'HTTP/1.1 '.$this->status.' '.('' === $this->reason ? self::phrase($this->status) : $this->reason)."\r\n"
            .implode('', array_map(static fn (array $f): string => $f[0].': '.$f[1]."\r\n", $fields))."\r\n";
        if ('HEAD' === $method || 304 === $this->status || 204 === $this->status) {
            return;
        }
        if (null !== $this->stream) {
            foreach (($this->stream)() as $piece) {
                yield $piece;
            }
        } elseif ($this->chunked) {
            foreach ('' === $body ? [] : str_split(substr($body, 0, $this->cutAt), 4096) as $piece) {
                yield dechex(\strlen($piece))."\r\n".$piece."\r\n";
            }
            yield null === $this->cutAt ? "0\r\n\r\n" : '';
        } else {
            yield substr($body, 0, $this->cutAt);
        }
    }

    private static function phrase(int $status): string
    {
        return [
            200 => 'OK', 301 => 'Moved Permanently', 302 => 'Found', 304 => 'Not Modified', 403 => 'Forbidden', 404 => 'Not Found',
            410 => 'Gone', 429 => 'Too Many Requests', 500 => 'Internal Server Error', 503 => 'Service Unavailable',
        ][$status] ?? 'Unnamed';
    }
}
