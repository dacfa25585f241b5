<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** What a check of a WARC file has found. */
final readonly class WarcReport
{
    public bool $valid;

    /**
     * @param list<Finding> $findings by their place
     */
    public function __construct(public int $records, public int $ok, public int $mismatch, public int $absent, public int $unsupported, public array $findings)
    {
        $this->valid = [] === array_filter($findings, static fn (Finding $finding): bool => !$finding->code->isWarning());
    }

    /**
     * @return array{records: int, ok: int, mismatch: int, absent: int, unsupported: int, problems: list<array{offset: int, code: string, message: string, warning?: true}>, valid: bool}
     */
    public function toArray(): array
    {
        $problems = array_map(static fn (Finding $finding): array => ['offset' => $finding->offset, 'code' => $finding->code->value, 'message' => $finding->message]
            + ($finding->code->isWarning() ? ['warning' => true] : []), $this->findings);

        return ['records' => $this->records, 'ok' => $this->ok, 'mismatch' => $this->mismatch, 'absent' => $this->absent, 'unsupported' => $this->unsupported, 'problems' => $problems, 'valid' => $this->valid];
    }
}
