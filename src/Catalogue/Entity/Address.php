<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** An address of which there are captures. All of the row but its number can be rebuilt from the files. */
#[ORM\Entity]
#[ORM\Table(name: 'address')]
class Address
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $captures = 0;

    #[ORM\Column(type: 'moment')]
    public \DateTimeImmutable $firstAt;

    #[ORM\Column(type: 'moment')]
    public \DateTimeImmutable $lastAt;

    /** Moment of the latest capture that had the page itself: no error, no redirect elsewhere. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $lastAliveAt = null;

    /** How many of the captures are limited to some. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $limited = 0;

    public function __construct(
        /** Sort key, cut to what the index holds; see KeyColumn. */
        #[ORM\Column(type: Types::STRING, length: 2048)]
        public readonly string $urlKey,
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $url,
        /** What stands in this application's addresses. */
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        \DateTimeImmutable $at,
    ) {
        $this->firstAt = $at;
        $this->lastAt = $at;
    }

    /** The same with other numbers, for showing: nobody writes it down. */
    public function with(int $captures, \DateTimeImmutable $first, \DateTimeImmutable $last, ?\DateTimeImmutable $alive): self
    {
        $seen = clone $this;
        [$seen->captures, $seen->firstAt, $seen->lastAt, $seen->lastAliveAt] = [$captures, $first, $last, $alive];

        return $seen;
    }

    public function add(Capture $capture): void
    {
        ++$this->captures;
        $this->firstAt = min($this->firstAt, $capture->capturedAt);
        $this->lastAt = max($this->lastAt, $capture->capturedAt);
        if ($capture->isAlive()) {
            $this->lastAliveAt = null === $this->lastAliveAt ? $capture->capturedAt : max($this->lastAliveAt, $capture->capturedAt);
        }
    }
}
