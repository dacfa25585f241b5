<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** A WARC file in the store: closed, digested, entered in the ledger, never opened for writing again. */
#[ORM\Entity]
#[ORM\Table(name: 'warc_file')]
class WarcFile
{
    public const OWN = 'own';
    public const TAKEN_IN = 'taken-in';
    /** How a capture was come by that is a copy from somebody's own browser. */
    public const WITNESS = 'witness';

    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $records = 0;

    public function __construct(
        /** Path within the store. */
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $path,
        #[ORM\Column(type: 'digest')]
        public readonly string $sha256,
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $bytes,
        #[ORM\Column(type: Types::STRING, length: 10)]
        public readonly string $origin,
        /** The name it came with. */
        #[ORM\Column(type: Types::STRING, length: 255)]
        public readonly string $givenName,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $storedAt,
    ) {
    }
}
