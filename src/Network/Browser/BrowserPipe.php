<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Revolt\EventLoop;
use Revolt\EventLoop\Suspension;

/** The pair of pipes to a browser: JSON messages, each ended by NUL (DevTools protocol). */
final class BrowserPipe
{
    /** A longer message is dropped: whatever a page puts into it, it costs no memory here. */
    private const MAX_MESSAGE = 20_971_520;

    /** @var array<int, Suspension<array<string, mixed>>> */
    private array $waiting = [];
    /** @var list<\Closure(string, array<string, mixed>, string): void> */
    private array $listeners = [];
    private int $lastId = 0;
    private string $buffer = '';
    private string $unsent = '';
    private ?string $writeWatch = null;
    private bool $skipping = false;
    private bool $closed = false;
    private readonly string $readWatch;
    /** Why it was closed from here; null if it was not. */
    private ?string $why = null;

    /**
     * @param resource $in what the browser reads
     * @param resource $out what the browser writes
     */
    public function __construct(private $in, private $out)
    {
        stream_set_blocking($this->in, false);
        stream_set_blocking($this->out, false);
        $this->readWatch = EventLoop::onReadable($this->out, $this->receive(...));
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     *
     * @throws BrowserFailed
     */
    public function call(string $method, array $parameters = [], ?string $session = null, float $seconds = 30.0): array
    {
        if ($this->closed) {
            throw new BrowserFailed($this->why ?? 'The browser has ended.');
        }
        $id = ++$this->lastId;
        $message = [
            'id' => $id, 'method' => $method, 'params' => (object) $parameters,
        ] + (null === $session ? [] : ['sessionId' => $session]);
        $suspension = EventLoop::getSuspension();
        $this->waiting[$id] = $suspension;
        $timer = EventLoop::delay($seconds, function () use ($id, $method): void {
            $waiting = $this->waiting[$id] ?? null;
            unset($this->waiting[$id]);
            $waiting?->throw(new BrowserFailed(\sprintf('The browser did not answer to %s in time.', $method)));
        });
        $this->send(json_encode($message, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)."\0");
        try {
            /** @var array<string, mixed> $answer */
            $answer = $suspension->suspend();
        } finally {
            EventLoop::cancel($timer);
        }
        if (isset($answer['error']) && \is_array($answer['error'])) {
            $said = $answer['error']['message'] ?? '';
            throw new BrowserFailed(\sprintf('The browser refused %s: %s', $method, \is_string($said) ? $said : ''));
        }
        /** @var array<string, mixed> $result */
        $result = \is_array($answer['result'] ?? null) ? $answer['result'] : [];

        return $result;
    }

    /**
     * @param \Closure(string, array<string, mixed>, string): void $listener given method, parameters, session of each event
     */
    public function listen(\Closure $listener): void
    {
        $this->listeners[] = $listener;
    }

    /** Nobody listens any more. */
    public function forget(): void
    {
        $this->listeners = [];
    }

    public function isClosed(): bool
    {
        return $this->closed;
    }

    /** @param string|null $why told to whoever waits for an answer */
    public function close(?string $why = null): void
    {
        if ($this->closed) {
            return;
        }
        $this->closed = true;
        $this->why = $why;
        EventLoop::cancel($this->readWatch);
        if (null !== $this->writeWatch) {
            EventLoop::cancel($this->writeWatch);
        }
        fclose($this->in);
        fclose($this->out);
        foreach ($this->waiting as $suspension) {
            $suspension->throw(new BrowserFailed($this->why ?? 'The browser has ended.'));
        }
        $this->waiting = [];
    }

    private function send(string $bytes): void
    {
        $this->unsent .= $bytes;
        $this->writeWatch ??= EventLoop::onWritable($this->in, function (): void {
            $written = @fwrite($this->in, substr($this->unsent, 0, 65_536));
            $this->unsent = substr($this->unsent, (int) $written);
            if ('' === $this->unsent && null !== $this->writeWatch) {
                EventLoop::cancel($this->writeWatch);
                $this->writeWatch = null;
            }
        });
    }

    private function receive(): void
    {
        $piece = @fread($this->out, 262_144);
        if (false === $piece || ('' === $piece && feof($this->out))) {
            $this->close();

            return;
        }
        $start = 0;
        while (false !== ($nul = strpos($piece, "\0", $start))) {
            $message = $this->buffer.substr($piece, $start, $nul - $start);
            $start = $nul + 1;
            $this->buffer = '';
            if (!$this->skipping) {
                $this->dispatch($message);
            }
            $this->skipping = false;
            if ($this->closed) {
                return;
            }
        }
        $this->buffer .= $this->skipping ? '' : substr($piece, $start);
        if (\strlen($this->buffer) > self::MAX_MESSAGE) {
            $this->buffer = '';
            $this->skipping = true;
        }
    }

    private function dispatch(string $json): void
    {
        $message = json_decode($json, true, 256);
        unset($json);
        if (!\is_array($message)) {
            return;
        }
        $id = $message['id'] ?? null;
        if (\is_int($id) && isset($this->waiting[$id])) {
            $suspension = $this->waiting[$id];
            unset($this->waiting[$id]);
            /** @var array<string, mixed> $message */
            $suspension->resume($message);

            return;
        }
        if (\is_string($message['method'] ?? null)) {
            /** @var array<string, mixed> $parameters */
            $parameters = \is_array($message['params'] ?? null) ? $message['params'] : [];
            $session = \is_string($message['sessionId'] ?? null) ? $message['sessionId'] : '';
            foreach ($this->listeners as $listener) {
                $listener($message['method'], $parameters, $session);
            }
        }
    }
}
