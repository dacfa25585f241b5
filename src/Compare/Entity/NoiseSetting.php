<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\Core\Compare\Noise\NoiseRule;
use Ypomna\Core\Compare\Noise\RuleKind;

/** A rule about noise that somebody set for an address, a folder or a host. It is ended, never deleted. */
#[ORM\Entity]
#[ORM\Table(name: 'noise_rule')]
class NoiseSetting
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $endedAt = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 8, enumType: RuleScope::class)]
        public readonly RuleScope $scope,
        /** Key of the address, or the beginning that all keys of the folder or host have. */
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $place,
        #[ORM\Column(type: 'digest', length: 16)]
        public readonly string $placeHash,
        #[ORM\Column(type: Types::STRING, length: 8, enumType: RuleKind::class)]
        public readonly RuleKind $kind,
        #[ORM\Column(type: Types::STRING, length: 1000)]
        public readonly string $selector,
        #[ORM\Column(type: Types::STRING, length: 1000)]
        public readonly string $quote,
        #[ORM\Column(type: Types::STRING, length: 500)]
        public readonly string $pattern,
        #[ORM\Column(type: Types::STRING, length: 1000)]
        public readonly string $note,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $person,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $createdAt,
    ) {
    }

    public function rule(): NoiseRule
    {
        return RuleKind::Pattern === $this->kind
            ? NoiseRule::pattern($this->pattern, $this->note)
            : NoiseRule::region($this->selector, $this->quote, $this->note);
    }
}
