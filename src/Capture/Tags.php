<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** The words by which captures and items are tagged. Who may see which is asked where they are used. */
final readonly class Tags
{
    public const LONGEST = 200;
    private const AT_ONCE = 1_000;

    public function __construct(private Connection $database, private ClockInterface $clock)
    {
    }

    /**
     * Numbers of tags; those that are new are made.
     *
     * @param list<string> $names
     *
     * @return list<int> as many as there are different ones
     */
    public function numbers(array $names): array
    {
        $now = MomentType::text($this->clock->now());
        $names = array_values(array_unique($names));
        // In one order, so that two who tag at once do not wait for each other.
        sort($names);
        foreach ($names as $name) {
            $this->database->executeStatement(
                'INSERT INTO tag (name, last_at, state) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE last_at = VALUES(last_at)',
                [$name, $now, Codes::random()],
            );
        }

        return array_values(array_unique(array_map(static fn (Tag $tag): int => $tag->id, $this->some('name IN (?)', $names))));
    }

    /**
     * @param list<string> $names
     *
     * @return list<int> of those that there are
     */
    public function known(array $names): array
    {
        return array_map(static fn (Tag $tag): int => $tag->id, $this->some('name IN (?)', $names));
    }

    /** @return list<Tag> whose names begin so, the one used last first */
    public function beginning(string $typed, int $most): array
    {
        return $this->some('name LIKE (?) ORDER BY last_at DESC LIMIT '.$most, [addcslashes($typed, '\\%_').'%']);
    }

    public function byName(string $name): ?Tag
    {
        return $this->some('name IN (?)', [$name])[0] ?? null;
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, Tag> by number
     */
    public function byNumbers(array $ids): array
    {
        $tags = [];
        foreach ($this->some('id IN (?)', $ids) as $tag) {
            $tags[$tag->id] = $tag;
        }

        return $tags;
    }

    /**
     * @param list<int> $ids
     *
     * @return list<int> those and all that stand under them
     */
    public function below(array $ids): array
    {
        for ($new = $ids, $depth = 0; [] !== $new && $depth < 100; ++$depth) {
            $new = array_values(array_diff(
                array_map(static fn (Tag $tag): int => $tag->id, $this->some('parent_id IN (?)', $new)), $ids,
            ));
            array_push($ids, ...$new);
        }

        return $ids;
    }

    public function change(Tag $tag, string $name, TagKind $kind, ?int $parent): void
    {
        $this->database->update('tag', [
            'name' => $name, 'kind' => $kind->value, 'parent_id' => $parent, 'state' => Codes::random(),
        ], ['id' => $tag->id]);
    }

    /** What was tagged with one is tagged with another from now on. The rooms above have moved what is theirs. */
    public function merge(Tag $tag, Tag $into): void
    {
        $this->database->executeStatement(
            'INSERT IGNORE INTO capture_description_tag (description_id, tag_id)'
                .' SELECT description_id, ? FROM capture_description_tag WHERE tag_id = ?',
            [$into->id, $tag->id],
        );
        $this->database->delete('capture_description_tag', ['tag_id' => $tag->id]);
        $this->database->executeStatement('UPDATE tag SET parent_id = ? WHERE parent_id = ? AND id <> ?', [$into->id, $tag->id, $into->id]);
        $this->database->executeStatement('UPDATE tag SET parent_id = NULL WHERE id = ? AND parent_id IN (id, ?)', [$into->id, $tag->id]);
        $this->database->delete('tag', ['id' => $tag->id]);
        $this->database->update('tag', ['state' => Codes::random()], ['id' => $into->id]);
    }

    /**
     * @param list<int|string> $values
     *
     * @return list<Tag>
     */
    private function some(string $where, array $values): array
    {
        $found = [];
        foreach (array_chunk($values, self::AT_ONCE) as $some) {
            foreach ($this->database->fetchAllAssociative(
                'SELECT id, name, kind, parent_id, state FROM tag WHERE '.$where, [$some],
                [\is_int($some[0]) ? ArrayParameterType::INTEGER : ArrayParameterType::STRING],
            ) as $values) {
                $row = new Row($values);
                $found[] = new Tag(
                    $row->int('id'), $row->text('name'), TagKind::from($row->text('kind')), $row->intOrNull('parent_id'),
                    $row->text('state'),
                );
            }
        }

        return $found;
    }
}
