<?php

declare(strict_types=1);

namespace Ypomna\App\People\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Shared\Role;

/** Somebody who works or reads here. A person is never removed, since acts stand under the name; who has left is closed. */
#[ORM\Entity]
#[ORM\Table(name: 'person')]
class Person
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public ?int $id = null;

    /** As its hasher made it; null until one is chosen. */
    #[ORM\Column(type: Types::STRING, length: 255, nullable: true)]
    public ?string $password = null;

    /** The secret of the second step, sealed; null without one. */
    #[ORM\Column(type: Types::STRING, length: 255, nullable: true)]
    public ?string $secondStep = null;

    /** The last step of time of which a code was taken. */
    #[ORM\Column(type: Types::BIGINT, nullable: true, options: ['unsigned' => true])]
    public ?int $usedStep = null;

    /** How often the key of their feed was renewed. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $feed = 0;

    /** The time zone that they chose; null if the browser's is theirs. */
    #[ORM\Column(type: Types::STRING, length: 60, nullable: true)]
    public ?string $zone = null;

    /** The language that they chose; null if the browser's is theirs. */
    #[ORM\Column(type: Types::STRING, length: 20, nullable: true)]
    public ?string $language = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $closedAt = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $name,
        #[ORM\Column(type: Types::STRING, length: 20, enumType: Role::class)]
        public Role $role,
        #[ORM\Column(type: Types::STRING, length: 190, nullable: true)]
        public ?string $mail,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $madeAt,
    ) {
    }

    public function isClosed(): bool
    {
        return null !== $this->closedAt;
    }

    /** @throws \LogicException if it is not kept yet */
    public function id(): int
    {
        return $this->id ?? throw new \LogicException('This person is not kept yet.');
    }
}
