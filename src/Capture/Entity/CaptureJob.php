<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Network\CaptureOptions;

/** The wish that a page be kept, and what became of it. */
#[ORM\Entity]
#[ORM\Table(name: 'capture_job')]
class CaptureJob
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: 12, enumType: CaptureStage::class)]
    public CaptureStage $stage = CaptureStage::Waiting;

    /** Why it failed: a code. */
    #[ORM\Column(type: Types::STRING, length: 24, nullable: true)]
    public ?string $reason = null;

    /** Why it failed: in words. */
    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $message = null;

    #[ORM\Column(type: Types::SMALLINT, options: ['unsigned' => true])]
    public int $attempts = 0;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    /** The server asked to be left alone until then. */
    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $notBefore = null;

    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $captureCode = null;

    /** Whether the capture worked: `whole`, `gaps`, `failed`; null where that was not checked, or there is none. */
    #[ORM\Column(type: Types::STRING, length: 8, nullable: true)]
    public ?string $verdict = null;

    /** When somebody wants to be reminded of the capture. */
    #[ORM\Column(type: Types::DATE_IMMUTABLE, nullable: true)]
    public ?\DateTimeImmutable $due = null;

    /** Code of the dossier that is to hold the capture. */
    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $dossier = null;

    /** Whether a person brought this page in by itself: not a watch, nor a list. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $brought = false;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $url,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $requestedAt,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $agent,
        /** Of the address's key. */
        #[ORM\Column(type: 'digest', length: 16)]
        public readonly string $keyHash,
        #[ORM\Column(type: Types::STRING, length: 10, enumType: CaptureMode::class)]
        public readonly CaptureMode $how = CaptureMode::Rendered,
        /** Code of the capture whose gaps are to be filled. */
        #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
        public readonly ?string $missingOf = null,
        /** The list that it belongs to. */
        #[ORM\Column(type: Types::BIGINT, nullable: true, options: ['unsigned' => true])]
        public readonly ?int $listId = null,
        #[ORM\Column(type: Types::STRING, length: 255)]
        public readonly string $host = '',
        /** @var array<string, bool|float|string>|null of {@see CaptureOptions::toArray()}; null if all is as usual */
        #[ORM\Column(type: Types::JSON, nullable: true)]
        public readonly ?array $options = null,
        /** Somebody's sign-in; gone when the job has ended. */
        #[ORM\Column(type: Types::TEXT, nullable: true)]
        public readonly ?string $secrets = null,
    ) {
    }

    /** Where its file goes to in the store. */
    public function path(): string
    {
        return $this->requestedAt->format('Y/m/').$this->requestedAt->format('Ymd\THis\Z-').$this->code.'.warc.gz';
    }

    public function options(): CaptureOptions
    {
        return CaptureOptions::ofArray(['rendered' => CaptureMode::Plain !== $this->how] + ($this->options ?? []), $this->secrets);
    }
}
