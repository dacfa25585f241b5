<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Http\WebSocket\MessageKind;
use Ypomna\Core\Http\WebSocket\MessageReader;

/**
 * A web socket that is open: passes every byte on unchanged, in both directions, and writes the messages down, until the page is
 * read. From then on nothing more is passed, so that the page stays as it is.
 *
 * @internal
 */
final class SocketPassage
{
    /** A side that says nothing is asked again after so long whether it is still needed, in seconds. */
    private const SLICE = 0.2;
    /** How long the first message, an answer, and a further message are waited for, in seconds. */
    private const FIRST = 3.0;
    private const REPLY = 5.0;
    private const FURTHER = 2.0;
    /** A socket that tells more than that by itself goes on and on. */
    private const MANY = 5;

    /** Why nothing more of it can be written down; null as long as it can. */
    public FetchFailed|StorageFull|null $fault = null;
    private bool $held = false;
    private bool $ended = false;
    private bool $closed = false;
    private float $awaited;
    private int $unasked = 0;
    /** @var array{MessageReader|null, MessageReader|null} by server and by page; null: not to be read any more */
    private array $readers;
    private readonly float $opened;

    /**
     * @param MessageHead $answer that opened it
     * @param \Closure(): float $seconds a steady clock
     * @param \Closure(int): void $count told of bytes before they are passed on; throws FetchFailed when there are too many
     * @param \Closure(): void $touched told when something came that the page may have waited for
     */
    public function __construct(
        private readonly Exchange $exchange, private readonly SocketLog $log, MessageHead $answer,
        private readonly \Closure $seconds, private readonly \Closure $count, private readonly \Closure $touched,
    ) {
        $this->opened = ($this->seconds)();
        $this->awaited = $this->opened + self::FIRST;
        $extensions = strtolower(trim($answer->fields->get('Sec-WebSocket-Extensions') ?? ''));
        $packs = str_starts_with($extensions, 'permessage-deflate');
        $this->readers = [new MessageReader(false, $packs), new MessageReader(true, $packs)];
        if ('' !== $extensions && (!$packs || str_contains($extensions, ','))) {
            $this->unreadable('The socket uses an extension that is not known here.');
        }
    }

    /** Whether something is awaited of it before the page is at rest. */
    public function isAwaited(): bool
    {
        return !$this->ended && !$this->held && ($this->seconds)() < $this->awaited;
    }

    public function hold(): void
    {
        $this->held = true;
    }

    /**
     * Passes one direction on until either side has ended.
     *
     * @param string $piece what has come of it already
     */
    public function pass(Duplex $from, Duplex $to, bool $byPage, string $piece): void
    {
        try {
            while (!$this->ended) {
                if ('' !== $piece && !$this->held) {
                    ($this->count)(\strlen($piece));
                    $this->read($byPage, $piece);
                    $to->write($piece);
                }
                $piece = $this->next($from);
                if ('' === $piece) {
                    break;
                }
            }
            $this->end();
        } catch (FetchFailed $e) {
            // A connection that breaks off is an end like any other; a limit is not.
            $this->fault ??= FailureReason::Limit === $e->reason ? $e : null;
            $this->end();
        } catch (StorageFull $e) {
            $this->fault = $e;
        } finally {
            $this->ended = true;
        }
    }

    private function end(): void
    {
        if (!$this->ended && !$this->held && !$this->closed) {
            $this->log->ended($this->since());
        }
        $this->ended = true;
    }

    private function next(Duplex $from): string
    {
        while (!$this->ended) {
            try {
                return $from->read(self::SLICE);
            } catch (FetchFailed $e) {
                if (FailureReason::Timeout !== $e->reason) {
                    throw $e;
                }
            }
        }

        return '';
    }

    private function read(bool $byPage, string $piece): void
    {
        try {
            foreach ($this->readers[(int) $byPage]?->push($piece) ?? [] as $message) {
                $this->log->said($this->since(), $byPage, $message);
                if (MessageKind::Close === $message->kind) {
                    $this->closed = true;
                    continue;
                }
                $this->waitFor($byPage);
            }
        } catch (MalformedMessage $e) {
            $this->unreadable($e->getMessage());
        }
    }

    private function waitFor(bool $byPage): void
    {
        $this->unasked = $byPage ? 0 : $this->unasked + 1;
        if ($this->unasked <= self::MANY) {
            $this->awaited = ($this->seconds)() + ($byPage ? self::REPLY : self::FURTHER);
            ($this->touched)();
        }
    }

    private function unreadable(string $why): void
    {
        $this->readers = [null, null];
        $this->exchange->failure ??= FailureReason::NotRecordable;
        $this->exchange->message ??= $why;
    }

    private function since(): float
    {
        return ($this->seconds)() - $this->opened;
    }
}
