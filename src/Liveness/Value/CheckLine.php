<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Value;

use Ypomna\App\Shared\Row;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\LiveVerdict;

/** One check of an address, with its evidence. */
final readonly class CheckLine
{
    /**
     * @param list<array{url: string, status: int|null}> $hops
     * @param list<string> $evidence in words
     * @param string|null $against permanent address of the capture that it was held against
     */
    private function __construct(
        public string $url,
        public \DateTimeImmutable $at,
        public LiveReason $reason,
        public ?int $status,
        public string $finalUrl,
        public array $hops,
        public array $evidence,
        public float $confidence,
        public ?string $against,
    ) {
    }

    /** @param array<string, mixed> $values */
    public static function of(array $values): self
    {
        $row = new Row($values);
        /** @var list<array{url: string, status: int|null}> $hops */
        $hops = json_decode($row->text('hops'), true);
        /** @var list<string> $evidence */
        $evidence = json_decode($row->text('evidence'), true);

        return new self(
            $row->text('url'),
            $row->moment('at'),
            LiveReason::tryFrom($row->text('reason')) ?? LiveReason::BadResponse,
            $row->intOrNull('status'),
            $row->text('final_url'),
            $hops,
            $evidence,
            $row->floatOrNull('confidence') ?? 0.0,
            $row->textOrNull('against'),
        );
    }

    public function verdict(): LiveVerdict
    {
        return $this->reason->verdict();
    }
}
