<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemKind;

/** Something that lies on the desk: what it is about, and what people say of it. */
#[ORM\Entity]
#[ORM\Table(name: 'item')]
class Item
{
    public const LONGEST_TITLE = 1_000;
    public const LONGEST_SUMMARY = 10_000;
    /** In bytes. */
    public const LONGEST_NOTE = 1_048_576;
    public const MOST_FIELDS = 200;
    public const MOST_TAGS = 200;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: self::LONGEST_TITLE)]
    public string $title = '';

    #[ORM\Column(type: Types::TEXT)]
    public string $summary = '';

    /** In Markdown. */
    #[ORM\Column(type: Types::TEXT)]
    public string $note = '';

    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $captureCode = null;

    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $url = null;

    /** Digest of a file, in hex. */
    #[ORM\Column(type: Types::STRING, length: 64, nullable: true)]
    public ?string $sha256 = null;

    /** @var array<string, mixed> values by name */
    #[ORM\Column(type: Types::JSON)]
    public array $fields = [];

    #[ORM\Column(type: Types::DATE_IMMUTABLE, nullable: true)]
    public ?\DateTimeImmutable $due = null;

    #[ORM\Column(type: Types::STRING, length: 9, nullable: true, enumType: DueFor::class)]
    public ?DueFor $dueFor = null;

    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $important = false;

    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $confidential = false;

    /** Whether somebody said where it goes; else it waits in the intake of who made it. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $sorted = false;

    /** The item under which it is. */
    #[ORM\ManyToOne(targetEntity: self::class)]
    public ?self $parent = null;

    /** The numbers of those above it and its own, eight signs each. */
    #[ORM\Column(type: Types::STRING, length: 900)]
    public string $path = '';

    /** Its place among those under the same item. */
    #[ORM\Column(type: Types::STRING, length: 160)]
    public string $place = '';

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = true;

    /** Another one with each change; what is undone has again the one it had. */
    #[ORM\Column(type: Types::STRING, length: 12)]
    public string $state = '';

    /** What brought it here: a job, a file, by kind and code; so that nothing comes twice. */
    #[ORM\Column(type: Types::STRING, length: 24, nullable: true)]
    public ?string $cameBy = null;

    #[ORM\Column(type: 'moment')]
    public \DateTimeImmutable $changedAt;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $deletedAt = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 9, enumType: ItemKind::class)]
        public readonly ItemKind $kind,
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $createdBy,
        #[ORM\Column(type: 'moment')]
        // It can be read anew, which sets it to an equal moment.
        public \DateTimeImmutable $createdAt,
    ) {
        $this->changedAt = $createdAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('An item that was not written down has no number.');
    }

    /** What tells this state of it from others. */
    public function etag(): string
    {
        return $this->code.'-'.$this->state;
    }

    /** Its own step of a path. */
    public function step(): string
    {
        return str_pad(base_convert((string) $this->id(), 10, 36), 8, '0', \STR_PAD_LEFT);
    }

    public function depth(): int
    {
        return intdiv(\strlen($this->path), 8);
    }
}
