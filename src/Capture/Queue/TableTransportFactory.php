<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Queue;

use Doctrine\DBAL\Connection;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Messenger\Transport\Serialization\SerializerInterface;
use Symfony\Component\Messenger\Transport\TransportFactoryInterface;
use Symfony\Component\Messenger\Transport\TransportInterface;

/**
 * @implements TransportFactoryInterface<TableTransport>
 */
final readonly class TableTransportFactory implements TransportFactoryInterface
{
    public function __construct(private Connection $database, #[Autowire('%env(int:QUEUE_LEASE)%')] private int $leaseSeconds)
    {
    }

    /**
     * @param array<mixed> $options
     */
    public function createTransport(#[\SensitiveParameter] string $dsn, array $options, SerializerInterface $serializer): TransportInterface
    {
        return new TableTransport($this->database, $serializer, $this->leaseSeconds);
    }

    /**
     * @param array<mixed> $options
     */
    public function supports(#[\SensitiveParameter] string $dsn, array $options): bool
    {
        return str_starts_with($dsn, 'table://');
    }
}
