<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Middleware\MiddlewareInterface;
use Symfony\Component\Messenger\Middleware\StackInterface;
use Symfony\Component\Messenger\Stamp\ReceivedStamp;

/**
 * What a worker does for one message takes so much of the processor and no more: beyond, the worker is ended by PHP itself, another
 * one begins in its place, and the message counts as delivered once more.
 */
final readonly class ProcessorLimit implements MiddlewareInterface
{
    public function handle(Envelope $envelope, StackInterface $stack): Envelope
    {
        $message = $envelope->getMessage();
        if (!$message instanceof QueuedMessage || null === $envelope->last(ReceivedStamp::class)) {
            return $stack->next()->handle($envelope, $stack);
        }
        set_time_limit($message::PROCESSOR_SECONDS);
        try {
            return $stack->next()->handle($envelope, $stack);
        } finally {
            set_time_limit(0);
        }
    }

    /** For work that goes through all holdings: each step that it has come further begins the time anew, if there is a limit. */
    public static function again(): void
    {
        $seconds = (int) \ini_get('max_execution_time');
        if ($seconds > 0) {
            set_time_limit($seconds);
        }
    }
}
