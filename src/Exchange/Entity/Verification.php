<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** One going-through of everything that is held, and what it found. */
#[ORM\Entity]
#[ORM\Table(name: 'verification')]
class Verification
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $files = 0;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $filesDone = 0;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $records = 0;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $ledgerLines = 0;

    /** @var list<array{where: string, what: string}> */
    #[ORM\Column(type: Types::JSON)]
    public array $findings = [];

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        /** Who asked for it. */
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $person,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $startedAt,
    ) {
    }
}
