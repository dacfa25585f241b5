<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;

/** Pages that are checked again by themselves. A watch is ended, never deleted: what it told stays. */
#[ORM\Entity]
#[ORM\Table(name: 'watch')]
class Watch
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: 8, enumType: WatchState::class)]
    public WatchState $state = WatchState::Running;

    /** By hand; null where it is found out. */
    #[ORM\Column(type: Types::FLOAT, nullable: true)]
    public ?float $everyDays = null;

    #[ORM\Column(type: Types::STRING, length: 16, enumType: ConditionKind::class)]
    public ConditionKind $conditionKind = ConditionKind::Any;

    #[ORM\Column(type: Types::STRING, length: 500)]
    public string $conditionText = '';

    #[ORM\Column(type: Types::STRING, length: 500)]
    public string $conditionColumn = '';

    /** Whether a page that changed in substance is kept. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $keeps = true;

    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $mails = true;

    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $hookUrl = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $dueAt = null;

    #[ORM\Column(type: Types::STRING, length: 500)]
    public string $dueNote = '';

    /** When pages were last gathered, where they are those of a folder, host or list. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $gatheredAt = null;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 8, enumType: WatchScope::class)]
        public readonly WatchScope $scope,
        /** An address; of a list, its code. */
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $target,
        #[ORM\Column(type: Types::STRING, length: 200)]
        public string $name,
        #[ORM\Column(type: Types::STRING, length: 64)]
        public readonly string $hookSecret,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $agent,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $madeAt,
    ) {
    }

    public function condition(): Condition
    {
        return new Condition($this->conditionKind, $this->conditionText, $this->conditionColumn);
    }
}
