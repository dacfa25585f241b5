<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Entity;

use Doctrine\DBAL\Types\Types;
use Doctrine\ORM\Mapping as ORM;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Crawl\Reach;
use Ypomna\Core\Crawl\Scope;

/** A whole site that is to be kept. */
#[ORM\Entity]
#[ORM\Table(name: 'crawl')]
class Crawl
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public ?int $id = null;

    #[ORM\Column(type: Types::STRING, length: 10, enumType: ListState::class)]
    public ListState $state = ListState::Running;

    /** Why it came to its end: `complete`, or which part of its budget was used up. */
    #[ORM\Column(type: Types::STRING, length: 16, nullable: true)]
    public ?string $ended = null;

    /** Goes up when it is gone on with: whoever works for an earlier one stops. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $run = 1;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $runningSince = null;

    /** For how long it ran before that. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $seconds = 0;

    #[ORM\Column(type: 'moment', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $pages = 0;

    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $parts = 0;

    /** Parts that were held already. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $again = 0;

    /** Of all answers. */
    #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
    public int $bytes = 0;

    /** Links to other hosts. */
    #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
    public int $outside = 0;

    /** Whether only some may see it; the gate knows who. */
    #[ORM\Column(type: Types::BOOLEAN)]
    public bool $limited = false;

    /**
     * @param list<string> $seeds
     * @param array{reach: string, depth: int|null, includes: list<string>, excludes: list<string>} $scope
     */
    public function __construct(
        #[ORM\Column(type: Types::STRING, length: 16)]
        public readonly string $code,
        #[ORM\Column(type: Types::STRING, length: 200)]
        public readonly string $name,
        #[ORM\Column(type: Types::JSON)]
        public array $seeds,
        #[ORM\Column(type: Types::JSON)]
        public readonly array $scope,
        #[ORM\Column(type: Types::STRING, length: 10, enumType: CaptureMode::class)]
        public readonly CaptureMode $how,
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $obey,
        #[ORM\Column(type: Types::STRING, length: 500, nullable: true)]
        public readonly ?string $overruled,
        /** Between two pages of one host, in milliseconds. */
        #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
        public readonly int $pause,
        /** Whether sitemaps and feeds say where pages are, too. */
        #[ORM\Column(type: Types::BOOLEAN)]
        public readonly bool $maps,
        #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
        public int $mostPages,
        #[ORM\Column(type: Types::BIGINT, options: ['unsigned' => true])]
        public int $mostBytes,
        #[ORM\Column(type: Types::INTEGER, options: ['unsigned' => true])]
        public int $mostSeconds,
        #[ORM\Column(type: Types::STRING, length: 190)]
        public readonly string $agent,
        #[ORM\Column(type: 'moment')]
        public readonly \DateTimeImmutable $madeAt,
    ) {
    }

    public function scope(): Scope
    {
        $patterns = static fn (string $text): AddressPattern => new AddressPattern($text);

        return new Scope(
            Reach::from($this->scope['reach']),
            $this->seeds,
            $this->scope['depth'],
            array_map($patterns, $this->scope['includes']),
            array_map($patterns, $this->scope['excludes']),
        );
    }

    /** For how long it has run, in seconds. */
    public function ran(\DateTimeImmutable $now): int
    {
        return $this->seconds + (null === $this->runningSince ? 0 : max(0, $now->getTimestamp() - $this->runningSince->getTimestamp()));
    }
}
