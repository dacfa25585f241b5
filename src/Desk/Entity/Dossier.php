<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\Opening;

/** A container for an inquiry. It may lie in another, and belongs to its people. */
#[ORM\Entity]
#[ORM\Table(name: 'dossier')]
class Dossier
{
    public const LONGEST_NAME = 1_000;
    public const LONGEST_NOTE = 1_048_576;
    public const MOST_FIELDS = 200;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: self::class)]
    public ?self $parent = null;

    #[ORM\Column(type: Types::STRING, length: self::LONGEST_NAME)]
    public string $name = '';

    /** In Markdown. */
    #[ORM\Column(type: Types::TEXT)]
    public string $note = '';

    /** As it was said of itself; null: as the one in which it lies. */
    #[ORM\Column(type: Types::STRING, length: 8, nullable: true, enumType: Opening::class)]
    public ?Opening $open = null;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = true;

    /** The numbers of those in which it lies and its own, eight signs each. */
    #[ORM\Column(type: Types::STRING, length: 900)]
    public string $path = '';

    /** Its place among those in the same one. */
    #[ORM\Column(type: Types::STRING, length: 160)]
    public string $place = '';

    /** @var list<array<string, mixed>>|null of {@see FieldDefinition::data()}: the fields that items in it have */
    #[ORM\Column(type: Types::JSON, nullable: true)]
    public ?array $fields = null;

    /** Code of the one after which it was made. */
    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $template = null;

    /** Rises with each change: of two who change the same state of it, one is told so. */
    #[ORM\Version, ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $version = 1;

    #[ORM\Column(type: 'moment')]
    public \DateTimeImmutable $changedAt;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $deletedAt = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $madeBy,
        #[ORM\Column(type: 'moment')]
        // It can be read anew, which sets it to an equal moment.
        public \DateTimeImmutable $madeAt,
    ) {
        $this->changedAt = $madeAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('A dossier that was not written down has no number.');
    }

    /** @return list<FieldDefinition> */
    public function fields(): array
    {
        return array_map(FieldDefinition::of(...), $this->fields ?? []);
    }

    /** Its own step of a path. */
    public function step(): string
    {
        return str_pad(base_convert((string) $this->id(), 10, 36), 8, '0', \STR_PAD_LEFT);
    }

    /** To whom it is open, as it is said of it or of the one in which it lies. */
    public function opening(): Opening
    {
        return $this->open ?? $this->parent?->opening() ?? Opening::Private;
    }

    /** What tells this state of it from others. */
    public function etag(): string
    {
        return $this->code.'-'.$this->version;
    }
}
