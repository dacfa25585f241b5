<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\NoteVersion;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Desk\Todos;

/** Writes the notes of items, with what is found by them: their to-dos, where they lead, and how they read before. */
final readonly class Notes
{
    /** Versions of one note; the oldest go. */
    private const MOST = 500;
    /** Within this, what one person writes in one go is one version. */
    private const SITTING = '-10 minutes';
    /** Who takes away more than the rest of this share has begun another version. */
    private const KEPT_SHARE = 0.9;
    private const MOST_LINKS = 500;

    public function __construct(private Connection $database, private ClockInterface $clock)
    {
    }

    public function write(Actor $actor, Item $item, string $note): void
    {
        $this->keep($actor, $item, $item->note, $note);
        $item->note = $note;
        $this->database->delete('item_todo', ['item_id' => $item->id()]);
        foreach (Todos::in($note) as $todo) {
            $this->database->insert('item_todo', [
                'item_id' => $item->id(), 'line' => $todo->line, 'text' => $todo->text, 'done' => (int) $todo->done,
            ]);
        }
        $this->database->delete('note_link', ['item_id' => $item->id()]);
        foreach (self::led($note) as $code) {
            $this->database->insert('note_link', ['item_id' => $item->id(), 'to_code' => $code]);
        }
    }

    /** @return list<NoteVersion> without their texts, the last one first */
    public function versions(Item $item): array
    {
        return array_map(self::version(...), $this->database->fetchAllAssociative(
            'SELECT id, person, written_at, CHAR_LENGTH(note) AS length, NULL AS note FROM note_version WHERE item_id = ?'
                .' ORDER BY id DESC LIMIT '.self::MOST,
            [$item->id()],
        ));
    }

    /** One, and the one before it. */
    public function one(Item $item, int $id): ?NoteVersion
    {
        return $this->first('id = ?', $item, $id);
    }

    public function before(Item $item, NoteVersion $version): ?NoteVersion
    {
        return $this->first('id < ?', $item, $version->id);
    }

    /** @return list<string> codes of items whose notes lead to that one */
    public function leadingTo(Item $item, int $most = 200): array
    {
        return array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT i.code FROM note_link l JOIN item i ON i.id = l.item_id WHERE l.to_code = ? AND i.deleted_at IS NULL'
                .' ORDER BY l.item_id LIMIT '.max(1, $most),
            [$item->code],
        ), \is_string(...)));
    }

    /** @return list<string> codes in the order of the note */
    private static function led(string $note): array
    {
        preg_match_all('~/items/('.Codes::PATTERN.')(?![0-9a-z])~', $note, $found);

        return \array_slice(array_values(array_unique($found[1])), 0, self::MOST_LINKS);
    }

    private function keep(Actor $actor, Item $item, string $before, string $now): void
    {
        $row = $this->database->fetchAssociative(
            'SELECT id, person, begun_at, CHAR_LENGTH(note) AS length FROM note_version WHERE item_id = ? ORDER BY id DESC LIMIT 1',
            [$item->id()],
        );
        $last = false === $row ? null : new Row($row);
        if (null === $last && '' !== $before) {
            // From before versions were kept.
            $this->insert($item, $before, $item->createdBy, $item->changedAt);
        }
        if (null !== $last && $last->text('person') === $actor->name
            && $last->text('begun_at') > MomentType::text($this->clock->now()->modify(self::SITTING))
            && mb_strlen($now) >= $last->int('length') * self::KEPT_SHARE) {
            $this->database->update(
                'note_version', ['note' => $now, 'written_at' => MomentType::text($this->clock->now())], ['id' => $last->int('id')],
            );

            return;
        }
        if ('' !== $now || '' !== $before) {
            $this->insert($item, $now, $actor->name, $this->clock->now());
        }
        $this->database->executeStatement(
            'DELETE FROM note_version WHERE item_id = ? AND id <= (SELECT * FROM (SELECT id FROM note_version WHERE item_id = ?'
                .' ORDER BY id DESC LIMIT 1 OFFSET '.self::MOST.') last)',
            [$item->id(), $item->id()],
        );
    }

    private function insert(Item $item, string $note, string $person, \DateTimeImmutable $at): void
    {
        $this->database->insert('note_version', [
            'item_id' => $item->id(), 'note' => $note, 'person' => $person, 'begun_at' => MomentType::text($at),
            'written_at' => MomentType::text($at),
        ]);
    }

    private function first(string $where, Item $item, int $id): ?NoteVersion
    {
        $row = $this->database->fetchAssociative(
            'SELECT id, person, written_at, CHAR_LENGTH(note) AS length, note FROM note_version WHERE item_id = ? AND '.$where
                .' ORDER BY id DESC LIMIT 1',
            [$item->id(), $id],
        );

        return false === $row ? null : self::version($row);
    }

    /** @param array<string, mixed> $values */
    private static function version(array $values): NoteVersion
    {
        $row = new Row($values);

        return new NoteVersion(
            $row->int('id'), $row->text('person'), $row->moment('written_at'), $row->int('length'), $row->textOrNull('note'),
        );
    }
}
