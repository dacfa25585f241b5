<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** Goes through a WARC file once, and says what is wrong with it and where. */
final class WarcCheck
{
    /** More findings are not listed: a file of nothing but damage must not fill the memory. */
    private const MAX_FINDINGS = 10_000;

    /**
     * @throws WarcError if the file cannot be opened
     */
    public static function run(string $path): WarcReport
    {
        $reader = Reader::open($path);
        $records = 0;
        $digests = array_fill_keys(array_map(static fn (DigestVerdict $verdict): string => $verdict->value, DigestVerdict::cases()), 0);
        $findings = [];
        foreach ($reader->records() as $record) {
            ++$records;
            $facts = Inspector::inspect($record, false);
            ++$digests[$facts->digest->value];
            if (\count($findings) >= self::MAX_FINDINGS) {
                continue;
            }
            if (DigestVerdict::Mismatch === $facts->digest) {
                $findings[] = Finding::at(FindingCode::DigestMismatch, $record->offset, \sprintf('The bytes of the %s record %s do not give the digest that it declares', mb_scrub($record->header->type()), mb_scrub($record->header->id() ?? 'without id')));
            }
            if (null !== $facts->problem) {
                $findings[] = Finding::at(FindingCode::BadHttp, $record->offset, $facts->problem);
            }
        }
        $findings = [...$findings, ...$reader->findings()];
        usort($findings, static fn (Finding $a, Finding $b): int => $a->offset <=> $b->offset);

        return new WarcReport($records, $digests['ok'], $digests['mismatch'], $digests['absent'], $digests['unsupported'], $findings);
    }
}
