<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Capture\Value\ListState;

/** Many pages that are to be kept as one work. */
#[ORM\Entity]
#[ORM\Table(name: 'capture_list')]
class CaptureList
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: 10, enumType: ListState::class)]
    public ListState $state = ListState::Running;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 200)]
        public readonly string $name,
        /** Whether what robots.txt says binds. */
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $obey,
        /** Why it does not. */
        #[ORM\Column(type: Types::STRING, length: 500, nullable: true)]
        public readonly ?string $overruled,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $agent,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $madeAt,
    ) {
    }
}
