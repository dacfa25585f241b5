<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Http\Framing;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/** A small server (RFC 9112) within this process: it reads requests from a connection, and writes the answers that it is given. */
final readonly class HttpServer
{
    private const MAX_BODY = 16_777_216;
    private const IDLE_SECONDS = 120.0;

    /**
     * @param \Closure(MessageHead, string|null): array{int, array<string, string|null>, iterable<string>} $answer told the head of a
     *     request and SHA-256 of its body, hex, null if it has none; gives status, headers (null values are left out), and a body in pieces
     */
    public function __construct(private \Closure $answer)
    {
    }

    /** Serves one connection until either side ends it. */
    public function serve(Stream $client): void
    {
        $pending = '';
        try {
            while (null !== ($head = $this->head($client, $pending))) {
                $body = $this->body($client, $head, $pending);
                $this->send($client, $head, ...($this->answer)($head, $body));
                if (!$head->keepsAlive()) {
                    break;
                }
            }
        } catch (MalformedMessage) {
            $this->refuse($client);
        } catch (FetchFailed) {
            // The reader went away.
        } finally {
            $client->close();
        }
    }

    /**
     * @param array<string, string|null> $headers
     * @param iterable<string> $body
     */
    private function send(Stream $client, MessageHead $head, int $status, array $headers, iterable $body): void
    {
        $bare = 'HEAD' === $head->method || \in_array($status, [204, 304], true);
        $length = $headers['Content-Length'] ?? null;
        $lines = 'HTTP/1.1 '.$status." Answer\r\n";
        foreach ($headers as $name => $value) {
            // A line end in a value would begin a field of the page's choosing.
            $lines .= null === $value ? '' : $name.': '.trim((string) preg_replace('/[\x00-\x08\x0a-\x1f\x7f]+/', ' ', $value))."\r\n";
        }
        $lines .= (null === $length && !$bare ? "Transfer-Encoding: chunked\r\n" : '').'Connection: '
            .($head->keepsAlive() ? 'keep-alive' : 'close')."\r\n\r\n";
        if ($bare) {
            $client->write($lines);

            return;
        }
        $sent = 0;
        foreach ($body as $piece) {
            if ('' === $piece) {
                continue;
            }
            $sent += \strlen($piece);
            $client->write($lines.(null === $length ? dechex(\strlen($piece))."\r\n".$piece."\r\n" : $piece));
            $lines = '';
        }
        $client->write($lines.(null === $length ? "0\r\n\r\n" : ''));
        if (null !== $length && $sent !== (int) $length) {
            throw new FetchFailed(FailureReason::BadResponse, 'The body has another length than its head says.');
        }
    }

    private function head(Stream $client, string &$pending): ?MessageHead
    {
        while (true) {
            $end = MessageHead::end($pending);
            if (null !== $end) {
                break;
            }
            if (\strlen($pending) > MessageHead::MAX_BYTES) {
                throw new MalformedMessage('The head of the request is too long.');
            }
            $piece = $client->read(self::IDLE_SECONDS);
            if ('' === $piece) {
                return null;
            }
            $pending .= $piece;
        }
        $head = MessageHead::parse(substr($pending, 0, $end));
        $pending = substr($pending, $end);
        if (null === $head->method) {
            throw new MalformedMessage('This is no request.');
        }

        return $head;
    }

    /** @return string|null SHA-256 of what was sent, hex; null if nothing was */
    private function body(Stream $client, MessageHead $head, string &$pending): ?string
    {
        $framing = $head->framing();
        $digest = hash_init('sha256');
        $bytes = 0;
        if (Framing::Length === $framing) {
            for ($left = (int) $head->contentLength(); $left > 0;) {
                $pending = '' === $pending ? $client->read() : $pending;
                if ('' === $pending || ($bytes += \strlen($pending)) > self::MAX_BODY) {
                    throw new MalformedMessage('What was sent is cut off, or too long.');
                }
                $piece = substr($pending, 0, $left);
                hash_update($digest, $piece);
                $left -= \strlen($piece);
                $pending = substr($pending, \strlen($piece));
            }

            return $bytes > 0 ? hash_final($digest) : null;
        }
        if (Framing::Chunked === $framing) {
            throw new MalformedMessage('Browsers give the length of what they send.');
        }

        return null;
    }

    private function refuse(Stream $client): void
    {
        try {
            $client->write("HTTP/1.1 400 Answer\r\nContent-Length: 0\r\nConnection: close\r\n\r\n", 5.0);
        } catch (FetchFailed) {
            // Whoever sent it is gone.
        }
    }
}
