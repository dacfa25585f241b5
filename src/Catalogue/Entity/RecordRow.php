<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** Where one record stands, and how it is found: by exact address, by key, by payload. Written in bulk by the indexer. */
#[ORM\Entity(readOnly: true)]
#[ORM\Table(name: 'record')]
class RecordRow
{
    public function __construct(
        #[ORM\Id, ORM\ManyToOne, ORM\JoinColumn(nullable: false)]
        public readonly WarcFile $warcFile,
        #[ORM\Id, ORM\Column(name: 'at_offset', type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $offset,
        /** A value of RecordRole. */
        #[ORM\Column(type: Types::STRING, length: 10)]
        public readonly string $role,
        #[ORM\Column(type: 'digest', length: 16)]
        public readonly string $urlHash,
        #[ORM\Column(type: 'digest', length: 16)]
        public readonly string $keyHash,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $capturedAt,
        #[ORM\Column(type: Types::STRING, length: 8)]
        public readonly string $method,
        #[ORM\Column(type: Types::SMALLINT, options: ['unsigned' => true])]
        public readonly int $status,
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $mime,
        /** Of the block, in bytes. */
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $length,
        #[ORM\Column(type: 'digest', nullable: true)]
        public readonly ?string $payloadSha256,
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $url,
        /** Bytes. */
        #[ORM\Column(type: Types::BINARY, length: 8)]
        public readonly string $recordIdHash,
        /** Whether the payload is another record's. */
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $revisit,
        /** Of what was sent with the request; null where nothing was. */
        /** Whether the answer broke off, or a limit cut it. */
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $cut,
        #[ORM\Column(name: 'request_sha256', type: 'digest', nullable: true)]
        public readonly ?string $requestSha256,
    ) {
    }
}
