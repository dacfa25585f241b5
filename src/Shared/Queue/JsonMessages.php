<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Exception\MessageDecodingFailedException;
use Symfony\Component\Messenger\Stamp\RedeliveryStamp;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;

/**
 * Messages as JSON: `{"message": class, "with": {property: value}, "retried": count}`. Whoever could write into the queue could
 * name nothing but messages; no other class is made, nor even loaded.
 */
final readonly class JsonMessages implements SerializerInterface
{
    private const CLASSES = '/^Ypomna\\\\App(?:\\\\[A-Z][A-Za-z]*)+$/D';
    private const DEPTH = 4;

    public function decode(array $encodedEnvelope): Envelope
    {
        $body = $encodedEnvelope['body'] ?? null;
        $said = \is_string($body) ? json_decode($body, true, self::DEPTH) : null;
        $class = \is_array($said) ? $said['message'] ?? null : null;
        $with = \is_array($said) ? $said['with'] ?? null : null;
        if (!\is_array($said) || !\is_array($with) || !\is_string($class)
            || 1 !== preg_match(self::CLASSES, $class) || !is_subclass_of($class, QueuedMessage::class)) {
            throw new MessageDecodingFailedException('What stands in the queue is no message to a worker.');
        }
        try {
            $message = new $class(...$with);
        } catch (\Error $e) {
            $why = \sprintf('The message %s in the queue cannot be made: %s', $class, $e->getMessage());
            throw new MessageDecodingFailedException($why, 0, $e);
        }
        $retried = $said['retried'] ?? 0;

        return new Envelope($message, \is_int($retried) && $retried > 0 ? [new RedeliveryStamp($retried)] : []);
    }

    public function encode(Envelope $envelope): array
    {
        $message = $envelope->getMessage();
        $with = get_object_vars($message);
        $more = array_filter($with, static fn (mixed $value): bool => !\is_scalar($value) && null !== $value);
        if (!$message instanceof QueuedMessage || [] !== $more) {
            throw new \LogicException(\sprintf('%s is no message to a worker, or holds more than plain values.', $message::class));
        }
        $said = [
            'message' => $message::class, 'with' => (object) $with, 'retried' => RedeliveryStamp::getRetryCountFromEnvelope($envelope),
        ];

        $form = \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_PRESERVE_ZERO_FRACTION;

        return ['body' => json_encode($said, $form)];
    }
}
