<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\EmbeddedPart;

/** What pages say of themselves and what they load, beside what a reader sees. */
final class PartComparison
{
    /**
     * Fields of the head and structured data that differ; title and description aside.
     *
     * @return list<array{name: string, old: string|null, new: string|null}>
     */
    public static function metadata(Document $old, Document $new): array
    {
        $changes = self::fields($old->metadata, $new->metadata, ['description']);
        $before = self::structured($old->structured);
        $after = self::structured($new->structured);

        return [...$changes, ...self::fields($before, $after, [])];
    }

    /**
     * @param array<string, string> $old
     * @param array<string, string> $new
     * @param list<string> $without names in lower case
     *
     * @return list<array{name: string, old: string|null, new: string|null}>
     */
    public static function fields(array $old, array $new, array $without): array
    {
        $changes = [];
        foreach (array_keys($old + $new) as $name) {
            $before = $old[$name] ?? null;
            $after = $new[$name] ?? null;
            if ($before !== $after && !\in_array((string) $name, $without, true)) {
                $changes[] = ['name' => (string) $name, 'old' => $before, 'new' => $after];
            }
        }

        return $changes;
    }

    /**
     * @return array{added: list<array{kind: string, url: string}>, removed: list<array{kind: string, url: string}>} scripts, styles, frames
     *     and the like, without what only keeps them out of caches
     */
    public static function parts(Document $old, Document $new): array
    {
        $before = self::named($old->parts);
        $after = self::named($new->parts);
        $row = static fn (EmbeddedPart $part): array => ['kind' => $part->kind, 'url' => $part->url];

        return [
            'added' => array_values(array_map($row, array_diff_key($after, $before))),
            'removed' => array_values(array_map($row, array_diff_key($before, $after))),
        ];
    }

    /**
     * @param list<EmbeddedPart> $parts
     *
     * @return array<string, EmbeddedPart>
     */
    private static function named(array $parts): array
    {
        $named = [];
        foreach ($parts as $part) {
            $named[$part->kind.' '.preg_replace('/\?(?:v|ver|version|t|ts|cb|rev|hash|_)?=?[\w.-]*$/D', '', $part->url)] = $part;
        }

        return $named;
    }

    /**
     * Values of structured data by the way to them (JSON-LD).
     *
     * @param list<string> $documents
     *
     * @return array<string, string>
     */
    private static function structured(array $documents): array
    {
        $values = [];
        foreach ($documents as $document) {
            $data = json_decode($document, true, 32);
            if (\is_array($data)) {
                self::flatten($data, 'json-ld', $values);
            }
        }

        return $values;
    }

    /**
     * @param array<array-key, mixed> $data
     * @param array<string, string> $values
     */
    private static function flatten(array $data, string $way, array &$values): void
    {
        foreach ($data as $name => $value) {
            if (\count($values) >= 1_000) {
                return;
            }
            if (\is_array($value)) {
                self::flatten($value, $way.'/'.$name, $values);
            } elseif (\is_scalar($value)) {
                $values[$way.'/'.$name] = \is_bool($value) ? ($value ? 'true' : 'false') : (string) $value;
            }
        }
    }
}
