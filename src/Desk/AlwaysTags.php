<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Shared\Viewer;

/** Tags that somebody has always on: whatever they bring in gets them, until they turn them off. Only they see which. */
final readonly class AlwaysTags
{
    public const MOST = 20;

    public function __construct(private Connection $database, private Tags $tags)
    {
    }

    /** @return list<string> names */
    public function of(?string $person): array
    {
        $ids = null === $person ? [] : $this->database->fetchFirstColumn(
            'SELECT tag_id FROM always_tag WHERE person = ? ORDER BY tag_id LIMIT '.self::MOST, [$person],
        );
        $names = array_map(
            static fn (Tag $tag): string => $tag->name,
            $this->tags->byNumbers(array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids)),
        );
        sort($names);

        return $names;
    }

    /**
     * @param list<string> $names in place of those before
     */
    public function set(Viewer $viewer, array $names): void
    {
        $this->database->transactional(function () use ($viewer, $names): void {
            $this->database->delete('always_tag', ['person' => (string) $viewer->name]);
            foreach ([] === $names ? [] : $this->tags->numbers(\array_slice($names, 0, self::MOST)) as $id) {
                $this->database->insert('always_tag', ['person' => (string) $viewer->name, 'tag_id' => $id]);
            }
        });
    }
}
