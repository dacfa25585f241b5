<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\Viewer;

/** The references of a document as a table that other programs open. */
final readonly class ReferenceTable
{
    public function __construct(private ReferenceLists $lists)
    {
    }

    /**
     * @param \Closure(string): string $permanent gives the permanent address of a capture by its code
     *
     * @return \Generator<int, string> lines of a CSV file
     */
    public function lines(Viewer $viewer, ReferenceList $list, \Closure $permanent): \Generator
    {
        yield CsvLine::of([
            'number', 'note', 'address', 'verdict', 'reason', 'confidence', 'checked at', 'last seen', 'accessed', 'capture', 'captured',
            'quotations standing', 'quotations', 'telling words', 'held elsewhere', 'context',
        ]);
        $after = 0;
        do {
            $rows = $this->lists->rows($viewer, $list, '', $after, 500);
            foreach ($rows as $row) {
                $after = $row->position;
                $utc = static fn (?\DateTimeImmutable $at): string => null === $at ? '' : $at->format('Y-m-d\TH:i:s\Z');
                yield CsvLine::of([
                    (string) $row->position, $row->note ?? '', $row->url, $row->live->word(), $row->live->reason->value ?? '',
                    null === $row->live->reason ? '' : (string) $row->live->confidence, $utc($row->live->checkedAt),
                    $utc($row->live->seenAt), $row->accessed?->format('Y-m-d') ?? '',
                    null === $row->capture ? '' : $permanent($row->capture), $utc($row->capturedAt),
                    null === $row->fit
                        ? ''
                        : (string) \count(array_filter($row->fit['quotes'], static fn (array $quote): bool => $quote['stands'])),
                    null === $row->fit ? '' : (string) \count($row->fit['quotes']), (string) ($row->fit['share'] ?? ''),
                    $row->elsewhere['url'] ?? '', $row->context,
                ]);
            }
        } while ([] !== $rows);
    }
}
