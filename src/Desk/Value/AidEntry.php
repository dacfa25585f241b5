<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** An item as a finding aid lists it. */
final readonly class AidEntry
{
    /**
     * @param string $dossier name of the one under which it is listed, with those in which that lies; '' if under none
     * @param list<string> $tags
     * @param array<string, string> $fields as people write them, by name
     * @param string|null $capturedAt moment in UTC, of a capture
     */
    public function __construct(
        public string $code,
        public string $kind,
        public string $title,
        public string $summary,
        public string $dossier,
        public array $tags,
        public array $fields,
        public ?string $url,
        public ?string $capture,
        public ?string $capturedAt,
    ) {
    }

    /** @param array<array-key, mixed> $row as {@see get_object_vars()} wrote it */
    public static function of(array $row): self
    {
        $text = static fn (string $name): string => \is_string($row[$name] ?? null) ? $row[$name] : '';
        $orNull = static fn (string $name): ?string => \is_string($row[$name] ?? null) ? $row[$name] : null;
        $fields = [];
        foreach (\is_array($row['fields'] ?? null) ? $row['fields'] : [] as $name => $value) {
            $fields[(string) $name] = \is_string($value) ? $value : '';
        }

        return new self(
            $text('code'), $text('kind'), $text('title'), $text('summary'), $text('dossier'),
            array_values(array_filter(\is_array($row['tags'] ?? null) ? $row['tags'] : [], \is_string(...))), $fields, $orNull('url'),
            $orNull('capture'), $orNull('capturedAt'),
        );
    }
}
