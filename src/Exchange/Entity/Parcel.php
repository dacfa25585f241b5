<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Exchange\Value\ParcelState;

/** Captures that a person has had put together, to give them out. Its files lie in a folder of its own until it is removed. */
#[ORM\Entity]
#[ORM\Table(name: 'parcel')]
class Parcel
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;
    #[ORM\Column(type: Types::STRING, length: 12, enumType: ParcelState::class)]
    public ParcelState $state = ParcelState::Waiting;
    /** Captures or files that are in so far. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $done = 0;
    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $message = null;
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $captures = 0;
    #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public int $bytes = 0;
    /** @var list<array{name: string, bytes: int, sha256: string}> */
    #[ORM\Column(type: Types::JSON)]
    public array $files = [];
    /** @var list<string> */
    #[ORM\Column(name: 'left_out', type: Types::JSON)]
    public array $leftOut = [];
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    /**
     * @param array<string, mixed> $wish {@see \Ypomna\App\Exchange\Value\ParcelOptions}
     */
    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $title,
        #[ORM\Column(type: Types::JSON)]
        public readonly array $wish,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $askedAt,
        /** For whom it is put together: with what they may see. Null for the system. */
        #[ORM\Column(type: Types::STRING, length: 190, nullable: true)]
        public readonly ?string $person = null,
    ) {
    }
}
