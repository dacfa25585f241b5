<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Matches;

/** A bibliography in CSL-JSON. Strings are replaced where they stand; all else stays byte for byte. */
final readonly class CslDraft implements Repairable
{
    /** More items are not read. */
    private const MOST = 20_000;
    private const STRING = '"(?:[^"\\\\]|\\\\.)*+"';

    public function __construct(private string $source)
    {
    }

    public function stretches(): array
    {
        $items = json_decode($this->source, true, 64);
        if (!\is_array($items)) {
            throw new UnreadableDraft('This is not JSON: '.json_last_error_msg().'.');
        }
        $items = array_values(array_is_list($items) ? $items : (\is_array($items['items'] ?? null) ? $items['items'] : [$items]));
        $places = $this->places();
        $stretches = new Gathered();
        foreach ($items as $n => $item) {
            if (!\is_array($item)) {
                continue;
            }
            $text = $this->text($item);
            $spots = [];
            $url = $item['URL'] ?? null;
            if (\is_string($url) && isset($places[$n]['URL'])) {
                [$at, $length, $end] = $places[$n]['URL'];
                $spots[] = new Spot(
                    $url,
                    \strlen($text) + 1,
                    \strlen($url),
                    \is_string($item['title'] ?? null) ? $item['title'] : $url,
                    ['kind' => 'url', 'at' => $at, 'length' => $length, 'end' => $end],
                );
                $text .= ' '.$url;
            }
            $id = $item['id'] ?? null;
            $stretches->add(new Stretch(
                $text, $spots, \is_string($id) || \is_int($id) ? (string) $id : (string) (1 + $n), [], self::day($item['accessed'] ?? null),
            ));
        }

        return $stretches->all();
    }

    public function repair(array $repairs, Wording $wording, string $path): void
    {
        $splices = new Splices();
        $text = static fn (string $value): string => (string) json_encode(
            $value, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
        foreach ($repairs as $repair) {
            // Where an item has a note already, what is added comes under the name that the schema leaves to programs.
            $splices->add($repair->place('at'), $repair->place('length'), $text($repair->permanent));
            $splices->add(
                $repair->place('end'),
                0,
                ', "custom": {"original-URL": '.$text($repair->original).', "archived": '.$text($repair->isoDay).', "said": '
                    .$text(ucfirst($wording->archived).' '.$repair->day.'; '.$wording->original.' '.$repair->original).'}',
            );
        }
        $repaired = $splices->on($this->source);
        if (!\is_array(json_decode($repaired, true, 64))) {
            throw new UnreadableDraft('The file cannot be altered in place.');
        }
        (new Splices())->write($repaired, $path);
    }

    /** @param array<mixed> $item */
    private function text(array $item): string
    {
        $said = [];
        foreach (['author', 'title', 'container-title', 'publisher', 'note', 'abstract'] as $name) {
            $value = $item[$name] ?? null;
            if (\is_array($value)) {
                $value = implode(
                    '; ',
                    array_map(
                        static fn (mixed $one): string => \is_array($one)
                            ? implode(
                                ' ',
                                array_filter(
                                    [$one['given'] ?? '', $one['family'] ?? '', $one['literal'] ?? ''],
                                    static fn (mixed $part): bool => \is_string($part) && '' !== $part,
                                ),
                            )
                            : '',
                        $value,
                    ),
                );
            }
            if (\is_string($value) && '' !== $value) {
                $said[] = $value;
            }
        }

        return implode('. ', $said);
    }

    private static function day(mixed $date): ?string
    {
        $date = \is_array($date) ? $date : [];
        $parts = \is_array($date['date-parts'] ?? null) ? $date['date-parts'][0] ?? null : null;
        if (\is_array($parts) && 3 === \count($parts)) {
            $parts = array_map(static fn (mixed $part): int => is_numeric($part) ? (int) $part : 0, array_values($parts));

            return checkdate($parts[1], $parts[2], $parts[0]) ? \sprintf('%04d-%02d-%02d', ...$parts) : null;
        }
        $raw = $date['raw'] ?? $date['literal'] ?? '';

        return \is_string($raw) ? \Ypomna\Core\Page\PageDate::find($raw) : null;
    }

    /**
     * Where the members of each item stand: the item is an object in the outermost list, or the one object that there is.
     *
     * @return array<int, array<string, array{int, int, int}>> by item and name: where the value begins, its length, and where it ends
     */
    private function places(): array
    {
        $places = [];
        $open = [];
        $item = -1;
        $name = null;
        $itemDepth = null;
        foreach (Matches::of('/('.self::STRING.')(\s*+:)?|[\[\]{}]|[^\s\[\]{}:,"]+/', $this->source) as $at => $m) {
            if ($item > self::MOST) {
                break;
            }
            $token = '' === ($m[1] ?? '') ? $m[0] ?? '' : $m[1];
            if ('{' === $token) {
                $itemDepth ??= \count($open) + 1;
                $open[] = '{';
                $item += \count($open) === $itemDepth ? 1 : 0;
            } elseif ('[' === $token) {
                // A list inside the outermost object holds the items.
                $open[] = '[';
                if (1 === \count($open) - 1 && '{' === $open[0] && 'items' === $name) {
                    [$itemDepth, $item, $places] = [3, -1, []];
                }
            } elseif ('}' === $token || ']' === $token) {
                array_pop($open);
            } elseif ('' !== ($m[2] ?? '')) {
                $name = json_decode($token);
            } elseif ('"' === $token[0] && \count($open) === $itemDepth && 'URL' === $name) {
                $places[$item][$name] ??= [$at, \strlen($token), $at + \strlen($token)];
            }
        }

        return $places;
    }
}
