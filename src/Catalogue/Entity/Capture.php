<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/**
 * What was kept of an address at one moment. The table's primary key is (address, moment, id), so that an address's
 * history lies together on the disk; the mapping knows the row by its unique number alone.
 */
#[ORM\Entity]
#[ORM\Table(name: 'capture')]
class Capture
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: 500, nullable: true)]
    public ?string $title = null;

    /** The place on the page that was asked for with it, without its `#`. */
    #[ORM\Column(type: Types::STRING, length: 500, nullable: true)]
    public ?string $fragment = null;

    #[ORM\Column(type: Types::STRING, length: 100, nullable: true)]
    public ?string $mime = null;

    /** Exchanges kept with it. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $parts = 1;

    /** Of the answers kept with it, as they came over the wire. */
    #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public int $bytes = 0;

    #[ORM\Column(type: 'digest', nullable: true)]
    public ?string $payloadSha256 = null;

    /** Where the rendered document stands in the file. */
    #[ORM\Column(type: Types::BIGINT, nullable: true, options: ['unsigned' => true])]
    public ?int $domOffset = null;

    #[ORM\Column(type: Types::BIGINT, nullable: true, options: ['unsigned' => true])]
    public ?int $textOffset = null;

    /** Where a redirect leads to. */
    #[ORM\Column(type: Types::TEXT, nullable: true)]
    public ?string $redirectTo = null;

    #[ORM\Column(type: Types::STRING, length: 190)]
    public string $agent = '';

    /** `rendered`, `plain`, or '' where the file does not say. */
    #[ORM\Column(type: Types::STRING, length: 16)]
    public string $how = '';

    /** `whole`, `gaps`, `failed` by the check after the capture; null where there was none. */
    #[ORM\Column(type: Types::STRING, length: 8, nullable: true)]
    public ?string $verdict = null;

    /** @var array<string, mixed>|null what that check found */
    #[ORM\Column(type: Types::JSON, nullable: true)]
    public ?array $completeness = null;

    /** Share of the page's passages that differ from the capture before, 0 to 1; null where there is none to compare with. */
    #[ORM\Column(type: Types::FLOAT, nullable: true)]
    public ?float $changed = null;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    public function __construct(
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)]
        public readonly Address $address,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $capturedAt,
        /** Its permanent address. */
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        /** Exactly as it was asked for. */
        #[ORM\Column(type: Types::TEXT)]
        public readonly string $url,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)]
        public readonly WarcFile $warcFile,
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public readonly int $responseOffset,
        #[ORM\Column(type: Types::SMALLINT, options: ['unsigned' => true])]
        public readonly int $status,
    ) {
    }

    public function isAlive(): bool
    {
        return $this->status >= 200 && $this->status < 300;
    }
}
