<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** What a check of a WARC file has found, or of a part of one. */
final readonly class WarcReport
{
    /** More are not listed: a file of nothing but damage must not fill the memory. */
    public const MAX_FINDINGS = 10_000;

    public bool $valid;

    /**
     * @param list<WarcFinding> $findings by their place
     * @param int|null $next where the record begins that the part ended before; null at the end of the file
     */
    public function __construct(
        public int $records,
        public int $ok,
        public int $mismatch,
        public int $absent,
        public int $unsupported,
        public array $findings,
        public ?int $next = null,
    ) {
        $this->valid = [] === array_filter($findings, static fn (WarcFinding $finding): bool => !$finding->code->isWarning());
    }

    /** This part and the one behind it. */
    public function and(self $behind): self
    {
        $findings = [...$this->findings, ...$behind->findings];
        $warned = false;
        foreach ($findings as $i => $finding) {
            // A reader says it once.
            if (WarcFindingCode::WholeFileGzip === $finding->code) {
                if ($warned) {
                    unset($findings[$i]);
                }
                $warned = true;
            }
        }

        return new self(
            $this->records + $behind->records, $this->ok + $behind->ok, $this->mismatch + $behind->mismatch,
            $this->absent + $behind->absent, $this->unsupported + $behind->unsupported,
            \array_slice(self::inOrder(array_values($findings)), 0, 2 * self::MAX_FINDINGS), $behind->next,
        );
    }

    /**
     * @param list<WarcFinding> $findings
     *
     * @return list<WarcFinding>
     */
    public static function inOrder(array $findings): array
    {
        usort($findings, static fn (WarcFinding $a, WarcFinding $b): int => $a->offset <=> $b->offset);

        return $findings;
    }

    /**
     * @return array{
     *     records: int, ok: int, mismatch: int, absent: int, unsupported: int,
     *     problems: list<array{offset: int, code: string, message: string, warning?: true}>, valid: bool,
     * }
     */
    public function toArray(): array
    {
        $problems = array_map(static fn (WarcFinding $finding): array => [
            'offset' => $finding->offset, 'code' => $finding->code->value, 'message' => $finding->message,
        ]
            + ($finding->code->isWarning() ? ['warning' => true] : []), $this->findings);

        return [
            'records' => $this->records, 'ok' => $this->ok, 'mismatch' => $this->mismatch, 'absent' => $this->absent,
            'unsupported' => $this->unsupported, 'problems' => $problems, 'valid' => $this->valid,
        ];
    }
}
