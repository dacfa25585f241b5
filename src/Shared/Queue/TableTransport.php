<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Exception\MessageDecodingFailedException;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Transport\Receiver\KeepaliveReceiverInterface;
use Symfony\Component\Messenger\Transport\Receiver\MessageCountAwareInterface;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * The queue as a table: a message is taken with a lease and stays until it has been worked off, so a worker that dies
 * loses nothing. What a dead worker of this machine held is free again at once, what one elsewhere held when its lease
 * ends.
 */
final class TableTransport implements TransportInterface, KeepaliveReceiverInterface, MessageCountAwareInterface
{
    private const NOW = 'UTC_TIMESTAMP(6)';
    private const TRIES = 5;
    /** A message over which so many workers came to an end is given up; none of them said why, or it would be gone. */
    private const MOST_DELIVERIES = 6;

    private bool $reclaimed = false;

    /**
     * @param \Closure(Envelope): void $givenUp is told of each message that is given up
     * @param bool $isSlow whether it has what takes long and can wait
     */
    public function __construct(
        private readonly Connection $database,
        private readonly SerializerInterface $serializer,
        private readonly int $leaseSeconds,
        private readonly \Closure $givenUp,
        private readonly bool $isSlow = false,
    ) {
    }

    public function get(): iterable
    {
        if (!$this->reclaimed) {
            $this->reclaimed = true;
            $this->reclaim();
        }
        $row = $this->retrying(fn (): array|false => $this->database->transactional(function (): array|false {
            $row = $this->database->fetchAssociative(
                'SELECT id, body, headers, deliveries FROM queue_message WHERE is_slow = '.(int) $this->isSlow
                    .' AND available_at <= '.self::NOW.' AND (leased_until IS NULL OR leased_until < '.self::NOW.') ORDER BY id LIMIT'
                        .' 1 FOR UPDATE SKIP LOCKED',
            );
            if (false !== $row) {
                $this->database->executeStatement(
                    'UPDATE queue_message SET leased_until = '.self::NOW
                        .' + INTERVAL ? SECOND, leased_by = ?, deliveries = deliveries + 1 WHERE id = ?',
                    [$this->leaseSeconds, self::me(), $row['id']],
                );
            }

            return $row;
        }));
        if (false === $row) {
            return [];
        }
        $id = $row['id'];
        try {
            /** @var array<string, string> $headers */
            $headers = json_decode(\is_string($row['headers']) ? $row['headers'] : '[]', true);
            $envelope = $this->serializer->decode(['body' => \is_string($row['body']) ? $row['body'] : '', 'headers' => $headers]);
        } catch (MessageDecodingFailedException $e) {
            $this->database->delete('queue_message', ['id' => $id]);
            throw $e;
        }

        if (is_numeric($row['deliveries']) && (int) $row['deliveries'] >= self::MOST_DELIVERIES) {
            $this->database->delete('queue_message', ['id' => $id]);
            ($this->givenUp)($envelope);

            return [];
        }

        return [$envelope->withoutAll(TransportMessageIdStamp::class)->with(new TransportMessageIdStamp($id))];
    }

    public function ack(Envelope $envelope): void
    {
        $this->retrying(fn (): int|string => $this->database->delete('queue_message', ['id' => self::id($envelope)]));
    }

    public function reject(Envelope $envelope): void
    {
        $this->ack($envelope);
    }

    public function keepalive(Envelope $envelope, ?int $seconds = null): void
    {
        $this->database->executeStatement(
            'UPDATE queue_message SET leased_until = '.self::NOW.' + INTERVAL ? SECOND WHERE id = ?',
            [$this->leaseSeconds, self::id($envelope)],
        );
    }

    public function send(Envelope $envelope): Envelope
    {
        $encoded = $this->serializer->encode($envelope);
        $delay = $envelope->last(DelayStamp::class)?->getDelay() ?? 0;
        $this->retrying(fn (): int|string => $this->database->executeStatement(
            'INSERT INTO queue_message (body, headers, available_at, deliveries, is_slow) VALUES (?, ?, '.self::NOW
                .' + INTERVAL ? MICROSECOND, 0, '.(int) $this->isSlow.')',
            [$encoded['body'], json_encode($encoded['headers'] ?? [], \JSON_THROW_ON_ERROR), $delay * 1000],
        ));

        return $envelope->with(new TransportMessageIdStamp($this->database->lastInsertId()));
    }

    public function getMessageCount(): int
    {
        $count = $this->database->fetchOne('SELECT COUNT(*) FROM queue_message WHERE is_slow = '.(int) $this->isSlow);

        return is_numeric($count) ? (int) $count : 0;
    }

    /** Frees what was leased by a process of this machine that is no more. */
    private function reclaim(): void
    {
        $host = gethostname().':';
        foreach ($this->database->fetchAllAssociative(
            'SELECT id, leased_by FROM queue_message WHERE leased_by LIKE ? AND leased_until > '.self::NOW,
            [addcslashes($host, '%_\\').'%'],
        ) as $row) {
            $pid = (int) substr(\is_string($row['leased_by']) ? $row['leased_by'] : '', \strlen($host));
            if ($pid !== getmypid() && !is_dir('/proc/'.$pid)) {
                $this->database->executeStatement(
                    'UPDATE queue_message SET leased_until = NULL WHERE id = ? AND leased_by = ?', [$row['id'], $row['leased_by']],
                );
            }
        }
    }

    /**
     * @template T
     *
     * @param \Closure(): T $act
     *
     * @return T
     */
    private function retrying(\Closure $act): mixed
    {
        for ($try = 1; true; ++$try) {
            try {
                return $act();
            } catch (RetryableException $e) {
                if ($try >= self::TRIES) {
                    throw $e;
                }
                usleep(random_int(5_000, 40_000) * $try);
            }
        }
    }

    private static function me(): string
    {
        return gethostname().':'.getmypid();
    }

    private static function id(Envelope $envelope): mixed
    {
        return $envelope->last(TransportMessageIdStamp::class)?->getId()
            ?? throw new \LogicException('The message did not come from this queue.');
    }
}
