<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportFactoryInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * @implements TransportFactoryInterface<TableTransport>
 */
final readonly class TableTransportFactory implements TransportFactoryInterface
{
    public function __construct(
        private Connection $database,
        #[Autowire('%env(int:QUEUE_LEASE)%')] private int $leaseSeconds,
        private EventDispatcherInterface $events,
        private LoggerInterface $logger,
    ) {
    }

    /**
     * @param array<mixed> $options
     */
    public function createTransport(#[\SensitiveParameter] string $dsn, array $options, SerializerInterface $serializer): TransportInterface
    {
        return new TableTransport($this->database, $serializer, $this->leaseSeconds, function (Envelope $envelope): void {
            $message = $envelope->getMessage();
            $this->logger->error('A message is given up: every worker that took it came to an end over it.', ['message' => $message]);
            if ($message instanceof QueuedMessage) {
                $this->events->dispatch(new AbandonedMessage($message));
            }
        }, str_ends_with($dsn, '/slow'));
    }

    /**
     * @param array<mixed> $options
     */
    public function supports(#[\SensitiveParameter] string $dsn, array $options): bool
    {
        return str_starts_with($dsn, 'table://');
    }
}
