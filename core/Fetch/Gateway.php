<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\ChunkedDecoder;
use Ypomna\Core\Http\Framing;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/**
 * Stands between the browser and the web: passes every byte on unchanged, in both directions, and writes both down.
 * It is also the one place that decides which addresses may be reached.
 */
final class Gateway
{
    /** How long a player may take nothing before its file is read on without it, in seconds. */
    private const MEDIA_PATIENCE = 1.5;
    /** Answers that go on for as long as somebody listens, and how long that is, in seconds. */
    private const STREAMS = ['text/event-stream', 'multipart/x-mixed-replace'];
    private const STREAM_SECONDS = 3.0;

    /** @var list<Exchange> */
    private array $exchanges = [];
    /** @var array<string, list<string>> certificates in PEM, by host */
    private array $certificates = [];
    private int $bytes = 0;
    private int $open = 0;
    private bool $draining = false;
    private ?StorageFull $fault = null;
    private bool $limited = false;
    private bool $stopped = false;
    /** @var array<int, SocketPassage> open sockets, by the number of their exchange */
    private array $sockets = [];
    private bool $holds = false;

    /**
     * @param string $folder an empty folder of this capture's own
     * @param \Closure(): \DateTimeImmutable $now
     * @param \Closure(): float $seconds a steady clock
     * @param list<string> $closed hosts of the browser's own services: asked by no page
     * @param (\Closure(Url): bool)|null $may whether the site lets programs ask for it; null: nobody is asked
     * @param FurtherFields|null $further what is added to requests; null: every byte passes unchanged
     * @param (\Closure(list<\Closure(): void>): mixed)|null $together runs tasks side by side until all have ended; null: no sockets pass
     */
    public function __construct(
        private readonly Pathfinder $pathfinder,
        private readonly string $folder,
        private readonly Limits $limits,
        private readonly \Closure $now,
        private readonly \Closure $seconds,
        private readonly array $closed = [],
        private readonly ?\Closure $may = null,
        private readonly ?FurtherFields $further = null,
        private readonly ?\Closure $together = null,
    ) {
        $this->lastActivity = ($this->seconds)();
        $this->started = $this->lastActivity;
    }

    private float $lastActivity;
    private readonly float $started;

    /**
     * Serves one connection of the browser until either side ends it.
     *
     * @param \Closure(Exchange): void|null $begun told of each exchange as it begins
     */
    public function serve(Duplex $client, bool $tls, ?\Closure $begun = null): void
    {
        $upstream = null;
        try {
            $pending = '';
            while (null !== ($head = $this->readHead($client, $pending, 3600.0, true))) {
                $upstream = $this->exchange($client, $upstream, $head, $pending, $tls, $begun);
                if (null === $upstream) {
                    return;
                }
            }
        } catch (FetchFailed|MalformedMessage) {
            // The exchange has noted what happened to it; the connection is of no further use.
        } catch (StorageFull $e) {
            $this->fault = $e;
        } finally {
            $upstream?->connection->close();
            $client->close();
        }
    }

    /**
     * Asks for something without the browser; what comes is written down like everything else.
     *
     * @param string $more further lines of the request, each with its end
     *
     * @return Exchange|null null if nothing more may be asked for
     */
    public function fetch(Url $url, string $userAgent, ?string $referrer = null, ?string $cookies = null, string $more = ''): ?Exchange
    {
        $request = 'GET '.$url->target()." HTTP/1.1\r\nHost: ".$url->authority()."\r\nUser-Agent: ".$userAgent
            ."\r\nAccept: */*\r\nAccept-Encoding: gzip\r\n".(null === $referrer ? '' : 'Referer: '.$referrer."\r\n")
            .(null === $cookies ? '' : 'Cookie: '.$cookies."\r\n").$more."Connection: close\r\n\r\n";
        $exchange = null;
        $this->serve(
            new LoneRequest($request),
            'https' === $url->scheme,
            static function (Exchange $begun) use (&$exchange): void { $exchange = $begun; },
        );

        return $exchange;
    }

    /**
     * Tells somebody something.
     *
     * @param string $fields lines of the request beside Host, User-Agent and Content-Length, each with its end
     *
     * @return Exchange|null null if nothing more may be asked for
     */
    public function post(Url $url, string $userAgent, string $fields, string $body): ?Exchange
    {
        $exchange = null;
        $request = 'POST '.$url->target()." HTTP/1.1\r\nHost: ".$url->authority()."\r\nUser-Agent: ".$userAgent."\r\nContent-Length: "
            .\strlen($body)."\r\n".$fields."Connection: close\r\n\r\n".$body;
        $this->serve(
            new LoneRequest($request),
            'https' === $url->scheme,
            static function (Exchange $begun) use (&$exchange): void { $exchange = $begun; },
        );

        return $exchange;
    }

    /** Whether a limit of bytes, time or number was reached. */
    public function limited(): bool
    {
        return $this->limited;
    }

    /**
     * @return list<Exchange>
     */
    public function exchanges(): array
    {
        return $this->exchanges;
    }

    /** How many exchanges are under way, and sockets of which something is awaited. */
    public function open(): int
    {
        return $this->open + \count(array_filter($this->sockets, static fn (SocketPassage $socket): bool => $socket->isAwaited()));
    }

    /** The page is being read: what is said on sockets from now on reaches nobody. */
    public function holdSockets(): void
    {
        $this->holds = true;
        foreach ($this->sockets as $socket) {
            $socket->hold();
        }
    }

    /** When the last byte passed, by the steady clock, in seconds. */
    public function lastActivity(): float
    {
        return $this->lastActivity;
    }

    /** Why nothing more can be written down; null as long as all is well. */
    public function fault(): ?StorageFull
    {
        return $this->fault;
    }

    /**
     * Nothing more is written down: what is under way is cut off where it stands.
     *
     * @param bool $overtime whether that is because the time is over
     */
    public function stop(bool $overtime = true): void
    {
        $this->stopped = true;
        $this->limited = $this->limited || $overtime;
        foreach ($this->exchanges as $exchange) {
            if (!$exchange->ended && !isset($this->sockets[$exchange->number])) {
                $exchange->failure ??= $exchange->stream ? FailureReason::NotRecordable : FailureReason::Timeout;
                $exchange->message ??= $exchange->stream
                    ? 'The answer is a stream that does not end; its beginning was kept.'
                    : 'The answer had not ended when the time for this capture was over.';
                $exchange->truncated ??= $exchange->isAnswered() ? 'time' : null;
            }
        }
    }

    /** From now on answers are read to their end even where the browser listens no longer. */
    public function drain(): void
    {
        $this->draining = true;
    }

    /**
     * @return array<string, list<string>>
     */
    public function certificates(): array
    {
        return $this->certificates;
    }

    /**
     * @param \Closure(Exchange): void|null $begun
     */
    private function exchange(
        Duplex $client,
        ?Upstream $upstream,
        string $headBytes,
        string &$pending,
        bool $tls,
        ?\Closure $begun,
    ): ?Upstream {
        $head = MessageHead::parse($headBytes);
        $url = Url::tryParse(($tls ? 'https' : 'http').'://'.($head->fields->get('Host') ?? '').(string) $head->target);
        if (null === $url || null === $url->host || null === $head->method || !str_starts_with((string) $head->target, '/')) {
            return null;
        }
        foreach ($this->closed as $pattern) {
            if (AddressGuard::nameMatches($pattern, $url->host) && null === $head->fields->get('Sec-Fetch-Dest')) {
                return null;
            }
        }
        if ($this->stopped || \count($this->exchanges) >= $this->limits->maxExchanges) {
            $this->limited = $this->limited || !$this->stopped;

            return null;
        }
        // The spelling of the target stays as it was sent; only that leads to the same answer again.
        $origin = self::isSocket($head) ? (string) preg_replace('/^http/', 'ws', $url->origin()) : $url->origin();
        $exchange = $this->begin($origin.(string) $head->target, $head);
        if (null !== $begun) {
            $begun($exchange);
        }
        ++$this->open;
        try {
            if (null !== $this->may && !($this->may)($url)) {
                throw new FetchFailed(FailureReason::Robots, 'The site asks programs not to fetch this (robots.txt).');
            }

            return $this->relay(
                new ExchangeLog($exchange), $client, $upstream, $url, $head, $this->further?->in($url, $headBytes) ?? $headBytes, $pending,
                $tls,
            );
        } catch (FetchFailed $e) {
            if ($this->stopped && $exchange->ended) {
                throw $e;
            }
            $exchange->failure ??= $e->reason;
            $exchange->message ??= $e->getMessage();
            $isCut = $exchange->isAnswered() && null === $exchange->messagesPath;
            $exchange->truncated ??= $isCut ? (FailureReason::Timeout === $e->reason ? 'time' : 'disconnect') : null;
            throw $e;
        } finally {
            $this->open -= $exchange->stream ? 0 : 1;
            $exchange->ended = true;
            $this->lastActivity = ($this->seconds)();
        }
    }

    private function begin(string $url, MessageHead $head): Exchange
    {
        $number = \count($this->exchanges);
        $stem = \sprintf('%s/%06d', $this->folder, $number);
        $exchange = new Exchange($number, $url, (string) $head->method, ($this->now)(), $stem.'.request', $stem.'.response');
        $exchange->destination = match (true) {
            self::isSocket($head) => 'websocket',
            str_contains($head->fields->get('Sec-Purpose') ?? $head->fields->get('Purpose') ?? '', 'prefetch') => 'prefetch',
            default => $head->fields->get('Sec-Fetch-Dest'),
        };
        $this->exchanges[] = $exchange;

        return $exchange;
    }

    private function relay(
        ExchangeLog $log,
        Duplex $client,
        ?Upstream $upstream,
        Url $url,
        MessageHead $head,
        string $headBytes,
        string &$pending,
        bool $tls,
    ): ?Upstream {
        if (\in_array('upgrade', $head->fields->tokens('Connection'), true) && (null === $this->together || !self::isSocket($head))) {
            throw new FetchFailed(FailureReason::NotRecordable, 'The page opened a stream that has no request and answer.');
        }
        $port = (int) $url->effectivePort();
        $log->request($headBytes);
        $body = '';
        $framing = $head->framing();
        $reused = null !== $upstream && $upstream->leadsTo((string) $url->host, $port);
        if (!$reused) {
            $upstream?->connection->close();
            $upstream = $this->connect((string) $url->host, $port, $tls);
        }
        $log->exchange->ip = $upstream->ip;
        $upstream->connection->write($headBytes);
        foreach ($this->body($client, $framing, $head, $pending) as $piece) {
            $log->request($piece);
            $body .= \strlen($body) < 65_536 ? $piece : '';
            $upstream->connection->write($piece);
        }
        $left = '';
        $answer = $this->readHead($upstream->connection, $left, (float) $this->limits->idleSeconds, $reused);
        if (null === $answer && $reused && $log->exchange->requestBytes === \strlen($headBytes) + \strlen($body)) {
            // An idle connection was closed by the server in the meantime: asked again on a new one, as browsers do.
            $upstream->connection->close();
            $upstream = $this->connect((string) $url->host, $port, $tls);
            $upstream->connection->write($headBytes.$body);
            $answer = $this->readHead($upstream->connection, $left, (float) $this->limits->idleSeconds, false);
        }
        $keep = $this->answer($log, $client, $upstream, $head, (string) $answer, $left, $pending);

        if ($keep && $head->keepsAlive()) {
            return $upstream;
        }
        $upstream->connection->close();

        return null;
    }

    /**
     * @param string $pending what the server has sent behind the head
     * @param string $early what the client has sent behind its request
     *
     * @return bool whether both connections can carry another exchange
     */
    private function answer(
        ExchangeLog $log, Duplex $client, Upstream $upstream, MessageHead $request, string $headBytes, string $pending, string $early,
    ): bool {
        while (true) {
            try {
                $head = MessageHead::parse($headBytes);
            } catch (MalformedMessage $e) {
                throw new FetchFailed(FailureReason::BadResponse, 'What came back is not an HTTP answer: '.$e->getMessage());
            }
            $log->response($headBytes);
            $client->write($headBytes);
            if (null === $head->status || $head->status >= 200 || 101 === $head->status) {
                break;
            }
            $headBytes = (string) $this->readHead($upstream->connection, $pending, (float) $this->limits->idleSeconds, false);
        }
        $log->exchange->status = $head->status;
        $log->exchange->mime = $head->mime();
        if (self::isSocket($request)) {
            if (101 === $head->status) {
                $this->socket($log->exchange, $client, $upstream->connection, $head, $early, $pending);

                return false;
            }
            if ($head->status < 400) {
                $log->exchange->failure = FailureReason::NotRecordable;
                $log->exchange->message = 'The server answered, but it did not open the socket that the page asked for.';
            }
        }
        $log->exchange->partial = 206 === $head->status && !self::coversAll($head);
        $framing = $head->framing((string) $request->method);
        if (\in_array($head->mime(), self::STREAMS, true)) {
            // It is not waited for, and not read for ever.
            $log->exchange->stream = true;
            --$this->open;
        }
        $listening = true;
        $begun = ($this->seconds)();
        // A player stops reading when it has enough, a browser that downloads nothing gives a document up: the file is kept all the same.
        $persistent = $this->isMedia($head) || self::isNavigation($request) || self::isSocket($request);
        foreach ($this->body($upstream->connection, $framing, $head, $pending, $log->exchange) as $piece) {
            if ($this->stopped) {
                throw new FetchFailed(FailureReason::Timeout, 'The time for this capture was over.');
            }
            // Of the piece that reaches the limit so much as there is room for, whoever else is writing beside it.
            $log->response(substr($piece, 0, max(0, $this->limits->maxBytes - $this->bytes)));
            $this->count(\strlen($piece), $log->exchange);
            try {
                if ($listening) {
                    $client->write($piece, $persistent ? self::MEDIA_PATIENCE : null);
                }
            } catch (FetchFailed) {
                $listening = false;
            }
            if ($log->exchange->stream && ($this->seconds)() - $begun > self::STREAM_SECONDS) {
                throw new FetchFailed(FailureReason::NotRecordable, 'The answer is a stream that does not end; its beginning was kept.');
            }
            if (!$listening && !$this->draining && !$persistent) {
                $log->exchange->truncated = 'disconnect';
                throw new FetchFailed(FailureReason::Cancelled, 'The page gave this request up before the answer had ended.');
            }
        }

        return $listening && null === $log->exchange->truncated && Framing::UntilClose !== $framing && $head->keepsAlive();
    }

    /** Both directions of a socket that was opened, side by side until either side ends. */
    private function socket(Exchange $exchange, Duplex $client, Duplex $server, MessageHead $answer, string $early, string $pending): void
    {
        // It is not waited for like an answer: that it goes on is no reason to wait.
        $exchange->stream = true;
        --$this->open;
        $exchange->messagesPath = \dirname($exchange->responsePath).\sprintf('/%06d.messages', $exchange->number);
        $log = new SocketLog($exchange->messagesPath, $exchange->url, $answer->fields->get('Sec-WebSocket-Protocol'), ($this->now)());
        $count = function (int $bytes) use ($exchange): void { $this->count($bytes, $exchange); };
        $touched = function (): void { $this->lastActivity = ($this->seconds)(); };
        $socket = new SocketPassage($exchange, $log, $answer, $this->seconds, $count, $touched);
        $this->sockets[$exchange->number] = $socket;
        if ($this->holds) {
            $socket->hold();
        }
        try {
            $this->together?->__invoke([
                static fn () => $socket->pass($client, $server, true, $early),
                static fn () => $socket->pass($server, $client, false, $pending),
            ]);
        } finally {
            unset($this->sockets[$exchange->number]);
        }
        if (null !== $socket->fault) {
            throw $socket->fault;
        }
    }

    /**
     * @return \Generator<int, string> the raw bytes of a body, framing included
     */
    private function body(Duplex $from, Framing $framing, MessageHead $head, string &$pending, ?Exchange $answer = null): \Generator
    {
        if (Framing::None === $framing) {
            return;
        }
        $left = Framing::Length === $framing ? (int) $head->contentLength() : \PHP_INT_MAX;
        $decoder = Framing::Chunked === $framing ? new ChunkedDecoder() : null;
        while ($left > 0) {
            $piece = '' !== $pending ? $pending : $this->next($from, $answer);
            $pending = '';
            if ('' === $piece) {
                if (Framing::UntilClose !== $framing && null !== $answer) {
                    $answer->truncated = 'disconnect';
                    $answer->failure = FailureReason::BadResponse;
                    $answer->message = 'The server ended the connection before the answer was complete.';
                }

                return;
            }
            if (\strlen($piece) > $left) {
                $pending = substr($piece, $left);
                $piece = substr($piece, 0, $left);
            }
            $left -= Framing::Length === $framing ? \strlen($piece) : 0;
            if (null !== $decoder) {
                try {
                    $decoder->push($piece);
                } catch (MalformedMessage) {
                    // Kept and passed on as it is, to the end of the connection.
                    $decoder = null;
                }
                if (true === $decoder?->isDone()) {
                    $pending = 0 === $decoder->surplus ? '' : substr($piece, -$decoder->surplus);
                    $piece = substr($piece, 0, \strlen($piece) - $decoder->surplus);
                    $left = 0;
                }
            }
            $this->lastActivity = ($this->seconds)();
            yield $piece;
        }
    }

    private function next(Duplex $from, ?Exchange $answer): string
    {
        try {
            return $from->read(true === $answer?->stream ? self::STREAM_SECONDS : null);
        } catch (FetchFailed $e) {
            throw true === $answer?->stream && FailureReason::Timeout === $e->reason
                ? new FetchFailed(FailureReason::NotRecordable, 'The answer is a stream that does not end; its beginning was kept.')
                : $e;
        }
    }

    /**
     * @param string $pending bytes that came before; what lies behind the head is left there
     * @param bool $mayEnd whether the other side may end the connection instead
     */
    private function readHead(Duplex $from, string &$pending, float $seconds, bool $mayEnd): ?string
    {
        while (true) {
            $end = MessageHead::end($pending);
            if (null !== $end) {
                break;
            }
            if (\strlen($pending) > MessageHead::MAX_BYTES) {
                throw new FetchFailed(FailureReason::BadResponse, 'The head of the message is longer than 256 KiB.');
            }
            $piece = $from->read($seconds);
            if ('' === $piece) {
                if ($mayEnd && '' === $pending) {
                    return null;
                }
                throw new FetchFailed(FailureReason::BadResponse, 'The server ended the connection without an answer.');
            }
            $pending .= $piece;
        }
        $head = substr($pending, 0, $end);
        $pending = substr($pending, $end);
        $this->lastActivity = ($this->seconds)();

        return $head;
    }

    private function connect(string $host, int $port, bool $tls): Upstream
    {
        [$connection, $ip] = $this->pathfinder->open($host, $port, $tls);
        if ([] !== $connection->certificates()) {
            $this->certificates[$host] = $connection->certificates();
        }

        return new Upstream($connection, $host, $port, $ip);
    }

    private function count(int $bytes, Exchange $exchange): void
    {
        $this->bytes += $bytes;
        if ($this->bytes > $this->limits->maxBytes) {
            $exchange->truncated = 'length';
            $this->limited = true;
            throw new FetchFailed(
                FailureReason::Limit, \sprintf('The limit of %d bytes for one capture was reached.', $this->limits->maxBytes),
            );
        }
        if (($this->seconds)() - $this->started > $this->limits->maxSeconds) {
            $exchange->truncated = 'time';
            $this->limited = true;
            throw new FetchFailed(
                FailureReason::Limit, \sprintf('The limit of %d seconds for one capture was reached.', $this->limits->maxSeconds),
            );
        }
    }

    /** Browsers send this field with navigations only (Upgrade Insecure Requests, section 3.2.1). */
    private static function isNavigation(MessageHead $request): bool
    {
        return 'document' === $request->fields->get('Sec-Fetch-Dest') || null !== $request->fields->get('Upgrade-Insecure-Requests');
    }

    /** RFC 6455, section 4.1. */
    private static function isSocket(MessageHead $request): bool
    {
        return \in_array('websocket', $request->fields->tokens('Upgrade'), true)
            && \in_array('upgrade', $request->fields->tokens('Connection'), true);
    }

    private static function coversAll(MessageHead $head): bool
    {
        return 1 === preg_match('#^bytes\s+0-(\d+)/(\d+)$#i', $head->fields->get('Content-Range') ?? '', $m)
            && (int) $m[1] + 1 === (int) $m[2];
    }

    private function isMedia(MessageHead $head): bool
    {
        return 1 === preg_match('#^(?:video|audio)/#', $head->mime() ?? '');
    }
}
