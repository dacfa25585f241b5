<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/** Goes through a WARC file once, or through a part of it, and says what is wrong with it and where. */
final class WarcCheck
{
    /**
     * @throws WarcError if the file cannot be opened
     */
    public static function run(string $path): WarcReport
    {
        return self::part(WarcReader::open($path), null);
    }

    /**
     * From where that reader stands up to the first record that begins at that byte or behind it.
     */
    public static function part(WarcReader $reader, ?int $until): WarcReport
    {
        $records = 0;
        $next = null;
        $digests = array_fill_keys(array_map(static fn (DigestVerdict $verdict): string => $verdict->value, DigestVerdict::cases()), 0);
        $findings = [];
        foreach ($reader->records() as $record) {
            if (null !== $until && $record->offset >= $until) {
                $next = $record->offset;
                break;
            }
            ++$records;
            $facts = Inspector::inspect($record, false);
            ++$digests[$facts->digest->value];
            if (\count($findings) >= WarcReport::MAX_FINDINGS) {
                continue;
            }
            if (DigestVerdict::Mismatch === $facts->digest) {
                $findings[] = WarcFinding::at(
                    WarcFindingCode::DigestMismatch,
                    $record->offset,
                    \sprintf(
                        'The bytes of the %s record %s do not give the digest that it declares',
                        mb_scrub($record->header->type()),
                        mb_scrub($record->header->id() ?? 'without id'),
                    ),
                );
            }
            if (null !== $facts->problem) {
                $findings[] = WarcFinding::at(WarcFindingCode::BadHttp, $record->offset, $facts->problem);
            }
        }

        return new WarcReport(
            $records, $digests['ok'], $digests['mismatch'], $digests['absent'], $digests['unsupported'],
            WarcReport::inOrder([...$findings, ...$reader->findings()]), $next,
        );
    }
}
