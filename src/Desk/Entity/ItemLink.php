<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** A link from an item to another one, or to a capture and a passage of it. */
#[ORM\Entity]
#[ORM\Table(name: 'item_link')]
class ItemLink
{
    public const LONGEST_REMARK = 10_000;

    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $deletedAt = null;

    /** @param array{exact: string, prefix?: string, suffix?: string}|null $passage */
    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\ManyToOne(targetEntity: Item::class), ORM\JoinColumn(name: 'from_id', nullable: false)]
        public readonly Item $from,
        #[ORM\ManyToOne(targetEntity: Item::class), ORM\JoinColumn(name: 'to_id')]
        public readonly ?Item $to,
        #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
        public readonly ?string $toCapture,
        /** Of the capture. */
        #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
        public readonly ?string $toAddress,
        #[ORM\Column(type: Types::JSON, nullable: true)]
        public readonly ?array $passage,
        #[ORM\Column(type: Types::TEXT, nullable: true)]
        public readonly ?string $remark,
        #[ORM\Column(type: Types::STRING, length: 100)]
        public readonly string $createdBy,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $createdAt,
    ) {
    }

    public function etag(): string
    {
        return $this->code.'-1';
    }
}
