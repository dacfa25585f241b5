<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\Core\Desk\CsvCells;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\JsonObjects;

/** Items as rows of a table (RFC 4180), and as they are read from one or from JSON. */
final class ItemRows
{
    /** What is parted by it cannot stand in a name of a tag. */
    private const PART = '/';
    private const COLUMNS = [
        'code', 'kind', 'title', 'summary', 'capture', 'url', 'sha256', 'note', 'tags', 'fields', 'due', 'dueFor', 'important',
        'confidential', 'sorted', 'dossiers', 'parent', 'createdAt', 'createdBy', 'changedAt',
    ];
    private const STEP = 262_144;
    private const LONGEST_ROW = 16_777_216;

    public static function head(): string
    {
        return CsvCells::row(self::COLUMNS);
    }

    /** @param array<string, mixed> $item as programs are told it */
    public static function row(array $item): string
    {
        $subject = (array) ($item['subject'] ?? []);
        $cells = [];
        foreach (self::COLUMNS as $name) {
            $value = \in_array($name, ['capture', 'url', 'sha256'], true) ? $subject[$name] ?? null : $item[$name] ?? null;
            $cells[] = match (true) {
                'fields' === $name => [] === (array) $value ? '' : json_encode($value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE
                    | \JSON_UNESCAPED_SLASHES | \JSON_PRESERVE_ZERO_FRACTION),
                \is_array($value) => implode(self::PART, array_filter($value, \is_string(...))),
                \is_bool($value) => $value ? 'true' : 'false',
                default => \is_string($value) ? $value : '',
            };
        }

        return CsvCells::row($cells);
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, \stdClass> items, numbered from 0
     *
     * @throws InvalidFields
     */
    public static function read($stream, bool $isTable): \Generator
    {
        rewind($stream);
        try {
            if ($isTable) {
                yield from self::table($stream);

                return;
            }
            foreach (JsonObjects::in(self::pieces($stream)) as $n => $json) {
                $item = json_decode($json, false, 64, \JSON_BIGINT_AS_STRING);
                yield $n => $item instanceof \stdClass ? $item : throw new InvalidValue(\sprintf('Number %d is not JSON.', $n));
            }
        } catch (InvalidValue $e) {
            throw InvalidFields::at('', $e->getMessage());
        }
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, \stdClass>
     *
     * @throws InvalidValue
     */
    private static function table($stream): \Generator
    {
        $head = fgetcsv($stream, self::LONGEST_ROW, ',', '"', '');
        $head = \is_array($head) ? array_map(static fn (?string $name): string => str_replace("\u{FEFF}", '', (string) $name), $head) : [];
        if (!\in_array('code', $head, true) || [] !== array_diff($head, self::COLUMNS)) {
            throw new InvalidValue('The first line names the columns: '.implode(', ', self::COLUMNS).'.');
        }
        for ($n = 0; \is_array($cells = fgetcsv($stream, self::LONGEST_ROW, ',', '"', '')); ++$n) {
            if ([null] === $cells) {
                --$n;
                continue;
            }
            if (\count($cells) !== \count($head)) {
                throw new InvalidValue(\sprintf('Row %d has %d cells; the first line has %d.', $n, \count($cells), \count($head)));
            }
            yield $n => self::item(array_combine($head, array_map(
                static fn (?string $cell): string => CsvCells::read(mb_scrub((string) $cell)), $cells,
            )), $n);
        }
    }

    /**
     * @param array<string, string> $cells
     *
     * @throws InvalidValue
     */
    private static function item(array $cells, int $n): \stdClass
    {
        $item = new \stdClass();
        $subject = [];
        foreach ($cells as $name => $cell) {
            if (\in_array($name, ['capture', 'url', 'sha256'], true)) {
                $subject += '' === $cell ? [] : [$name => $cell];
                continue;
            }
            $item->{$name} = match ($name) {
                'fields' => '' === $cell ? new \stdClass() : json_decode($cell, false, 16, \JSON_BIGINT_AS_STRING)
                    ?? throw new InvalidValue(\sprintf('In row %d the fields are not JSON.', $n)),
                'tags', 'dossiers' => '' === $cell ? [] : explode(self::PART, $cell),
                'important', 'confidential', 'sorted' => match ($cell) {
                    'true' => true, 'false', '' => false, default => $cell,
                },
                'due', 'dueFor', 'parent' => '' === $cell ? null : $cell,
                default => $cell,
            };
        }
        $item->subject = (object) $subject;

        return $item;
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, string>
     */
    public static function pieces($stream): \Generator
    {
        while (!feof($stream)) {
            yield (string) fread($stream, self::STEP);
        }
    }
}
