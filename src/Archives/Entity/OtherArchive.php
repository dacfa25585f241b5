<?php

declare(strict_types=1);

namespace Ypomna\App\Archives\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;

/** Another archive that speaks RFC 7089, and may be asked for what it holds. */
#[ORM\Entity]
#[ORM\Table(name: 'other_archive')]
class OtherArchive
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public ?int $id = null;

    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 120)]
        public string $name,
        /** What an address is put behind to ask for a moment; empty if it has none. */
        #[ORM\Column(type: Types::STRING, length: 500)]
        public string $timeGate,
        /** What an address is put behind to get the list; empty if the TimeGate says where it is. */
        #[ORM\Column(type: Types::STRING, length: 500)]
        public string $timeMap,
        #[ORM\Column(type: Types::BOOLEAN)]
        public bool $asked = true,
    ) {
    }
}
