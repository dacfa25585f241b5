<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Page\PageDate;

/** A table with commas, semicolons or tabs (RFC 4180): an entry a row. */
final readonly class CsvDraft implements Draft
{
    private const ROWS = 100_000;
    private const READ = '/access|retriev|visited|read|date|abgerufen|zugriff|consult|πρόσβαση|閲覧/iu';

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $first = (string) strtok($this->source, "\n");
        $separator = ',';
        foreach ([';', "\t", '|'] as $other) {
            $separator = substr_count($first, $other) > substr_count($first, $separator) ? $other : $separator;
        }
        $stream = fopen('php://memory', 'w+');
        if (false === $stream) {
            throw new UnreadableDraft('There is no memory for the table.');
        }
        // A row of nothing but separators would be millions of cells.
        fwrite(
            $stream,
            (string) preg_replace(
                ['/^\xEF\xBB\xBF/', '/'.preg_quote($separator, '/').'{2000,}/'], ['', str_repeat($separator, 2_000)], $this->source,
            ),
        );
        rewind($stream);
        $head = [];
        $stretches = new Gathered();
        for ($n = 1; $n <= self::ROWS && false !== ($row = fgetcsv($stream, 524_288, $separator, '"', '')); ++$n) {
            $cells = array_map(static fn (?string $cell): string => trim(mb_scrub((string) $cell)), $row);
            if (1 === $n && [] === BareAddresses::in(implode(' ', $cells))) {
                $head = $cells;
                continue;
            }
            $stretches->add($this->row($cells, $head, $n));
        }
        fclose($stream);

        return $stretches->all();
    }

    /**
     * @param list<string> $cells
     * @param array<int, string> $head
     */
    private function row(array $cells, array $head, int $number): Stretch
    {
        $text = '';
        $spots = [];
        $accessed = null;
        foreach ($cells as $n => $cell) {
            $text .= '' === $text || '' === $cell ? '' : ' · ';
            foreach (BareAddresses::in($cell) as [$written, $at]) {
                $spots[] = new Spot(
                    $written, \strlen($text) + $at, \strlen($written), $written, ['kind' => 'cell', 'row' => $number, 'column' => $n],
                );
            }
            if (1 === preg_match(self::READ, $head[$n] ?? '')
                || (!isset($head[$n]) && \strlen($cell) < 200 && PageDate::share($cell) > 0.8)) {
                $accessed ??= PageDate::find($cell);
            }
            $text .= $cell;
        }

        return new Stretch($text, $spots, (string) $number, [], $accessed);
    }
}
