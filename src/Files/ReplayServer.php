<?php

declare(strict_types=1);

namespace Ypomna\App\Files;

use Ypomna\App\Capture\Network\Stream;
use Ypomna\App\Replay\PageAnswer;
use Ypomna\App\Replay\PageAnswers;
use Ypomna\App\Replay\PageAsk;
use Ypomna\App\Replay\PageHosts;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Http\Framing;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/**
 * A small server (RFC 9112) for reading files without the application: our window on one host, archived pages on theirs. It
 * answers to loopback names only.
 */
final readonly class ReplayServer
{
    public const WINDOW = 'reader.localhost';
    public const WINDOW_HOSTS = self::WINDOW.' localhost 127.0.0.1';
    private const MAX_BODY = 16_777_216;
    private const IDLE_SECONDS = 120.0;

    /** @param ReaderWindow|null $window null where only archived pages are to be had */
    public function __construct(private PageHosts $hosts, private PageAnswers $pages, private ?ReaderWindow $window)
    {
    }

    /** Serves one connection until either side ends it. */
    public function serve(Stream $client): void
    {
        $pending = '';
        try {
            while (null !== ($head = $this->head($client, $pending))) {
                $body = $this->body($client, $head, $pending);
                $this->send($client, $head, $this->answer($head, $body));
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

    private function answer(MessageHead $head, ?string $body): PageAnswer
    {
        $authority = strtolower($head->fields->get('Host') ?? '');
        $port = 1 === preg_match('/:\d+$/D', $authority, $m) ? $m[0] : '';
        $host = substr($authority, 0, \strlen($authority) - \strlen($port));
        $target = (string) preg_replace('~^https?://[^/]*~i', '', (string) $head->target);
        $headers = [];
        foreach ($head->fields->lines as [$name, $value]) {
            $headers[strtolower($name)] ??= $value;
        }
        try {
            if (null !== $this->window && \in_array($host, explode(' ', self::WINDOW_HOSTS), true)) {
                return $this->window->answer((string) $head->method, $target, $headers, $port);
            }
            if ($this->hosts->isPageHost($host)) {
                return $this->pages->to(new PageAsk((string) $head->method, 'http', $host, $port, $target, $headers, $body));
            }
        } catch (\RuntimeException $e) {
            return new PageAnswer(500, ['Content-Type' => 'text/plain; charset=utf-8'], ['This cannot be answered: '.$e->getMessage()."\n"]);
        }

        return new PageAnswer(421, ['Content-Type' => 'text/plain; charset=utf-8'], ["This server does not answer to that host name.\n"]);
    }

    private function send(Stream $client, MessageHead $head, PageAnswer $answer): void
    {
        $bare = 'HEAD' === $head->method || \in_array($answer->status, [204, 304], true);
        $length = $answer->headers['Content-Length'] ?? null;
        $lines = 'HTTP/1.1 '.$answer->status." Answer\r\n";
        foreach ($answer->headers as $name => $value) {
            // A line end in a value would begin a field of the page's choosing.
            $lines .= null === $value ? '' : $name.': '.trim((string) preg_replace('/[\x00-\x08\x0a-\x1f\x7f]+/', ' ', $value))."\r\n";
        }
        $lines .= (null === $length && !$bare ? "Transfer-Encoding: chunked\r\n" : '').'Connection: '.($head->keepsAlive() ? 'keep-alive' : 'close')."\r\n\r\n";
        if ($bare) {
            $client->write($lines);

            return;
        }
        $sent = 0;
        foreach ($answer->body as $piece) {
            if ('' === $piece) {
                continue;
            }
            $sent += \strlen($piece);
            $client->write($lines.(null === $length ? dechex(\strlen($piece))."\r\n".$piece."\r\n" : $piece));
            $lines = '';
        }
        $client->write($lines.(null === $length ? "0\r\n\r\n" : ''));
        if (null !== $length && $sent !== (int) $length) {
            throw new FetchFailed(FailureReason::BadResponse, 'The file gave another length than its record says.');
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
