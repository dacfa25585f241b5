<?php

declare(strict_types=1);

namespace Ypomna\App\References\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\Core\Citation\DraftFormat;

/** The references of a document that was handed in. The document itself lies in the data folder, as it came. */
#[ORM\Entity]
#[ORM\Table(name: 'reference_list')]
class ReferenceList
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    /** When it was last asked how its references stand. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $askedAt = null;

    /** When other archives were asked. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $elsewhereAt = null;

    /** When captures were last looked for that its references mean. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $matchedAt = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $repairedAt = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 200)]
        public readonly string $name,
        #[ORM\Column(type: Types::STRING, length: 12, enumType: DraftFormat::class)]
        public readonly DraftFormat $format,
        #[ORM\Column(type: Types::STRING, length: 200)]
        public readonly string $fileName,
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $bytes,
        #[ORM\Column(type: 'digest')]
        public readonly string $sha256,
        /** Whether there are more references than were taken. */
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $isCut,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $agent,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $madeAt,
    ) {
    }

    /** The name under which the document is given back. */
    public function documentName(): string
    {
        return '' === $this->fileName ? 'references.'.$this->format->extension() : $this->fileName;
    }

    /** The same without its ending. */
    public function baseName(): string
    {
        return pathinfo($this->documentName(), \PATHINFO_FILENAME);
    }
}
