<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Exchange\Value\SaidOfArrival;

/** A file that a person hands in through the window, piece by piece, until it has been taken in or refused. */
#[ORM\Entity]
#[ORM\Table(name: 'arrival')]
class Arrival
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;
    #[ORM\Column(type: Types::STRING, length: 12, enumType: ArrivalState::class)]
    public ArrivalState $state = ArrivalState::Coming;
    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $message = null;
    #[ORM\Column(type: 'digest', nullable: true)]
    public ?string $sha256 = null;
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $records = 0;
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $captures = 0;
    /** @var list<string> */
    #[ORM\Column(type: Types::JSON)]
    public array $findings = [];
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;
    /** When something of it came last. */
    #[ORM\Column(name: 'touched_at', type: 'moment')]
    public \DateTimeImmutable $touchedAt;

    /** @var array<string, mixed>|null of {@see SaidOfArrival}; null if nothing was said */
    #[ORM\Column(name: 'said', type: Types::JSON, nullable: true)]
    private ?array $words = null;

    /** Code of the capture that it brought; null if there is none, or several. */
    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $captureCode = null;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        /** As it was called where it came from. */
        #[ORM\Column(type: Types::STRING, length: 255)]
        public readonly string $name,
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $bytes,
        /** When it was changed last, as its owner's machine says: Unix time. */
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $modified,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $begunAt,
        /** Who handed it in, or had it fetched. */
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $person,
        /** Digest of that name: nobody else goes on with the file. '' where a worker gets it. */
        #[ORM\Column(type: Types::STRING, length: 64)]
        public readonly string $owner = '',
        /** What the whole file has to come to, if its owner said so. */
        #[ORM\Column(name: 'promised', type: 'digest', nullable: true)]
        public readonly ?string $promised = null,
    ) {
        $this->touchedAt = $begunAt;
    }

    public function said(): SaidOfArrival
    {
        return SaidOfArrival::fromArray($this->words ?? []);
    }

    public function say(SaidOfArrival $said): void
    {
        $this->words = [] === $said->toArray() ? null : $said->toArray();
    }
}
