<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemTodo;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Todos;

/** The to-dos of all notes as one list. */
final readonly class ItemTodos
{
    public function __construct(private Connection $database, private Items $items, private Gate $gate)
    {
    }

    /**
     * @param bool|null $open null: those that are done as well
     * @param array{int, int} $after number of the item and line of what was shown last
     *
     * @return list<ItemTodo>
     */
    public function all(Viewer $viewer, ?bool $open, array $after = [0, 0], int $most = 50): array
    {
        $rows = $this->database->fetchAllAssociative(\sprintf(
            <<<'SQL'
                SELECT t.item_id, i.code, i.title, t.line, t.text, t.done FROM item_todo t JOIN item i ON i.id = t.item_id
                WHERE i.deleted_at IS NULL AND %s AND (t.item_id > ? OR (t.item_id = ? AND t.line > ?)) AND %s
                ORDER BY t.item_id, t.line LIMIT %d
                SQL,
            null === $open ? '1 = 1' : ($open ? 't.done = 0' : 't.done = 1'), $this->gate->sight($viewer)->of('i.limited', 'i.code'),
            max(1, $most),
        ), [$after[0], $after[0], $after[1]]);

        return array_map(static function (array $values): ItemTodo {
            $row = new Row($values);

            return new ItemTodo(
                $row->int('item_id'), $row->text('code'), $row->text('title'), $row->int('line'), $row->text('text'),
                1 === $row->int('done'),
            );
        }, $rows);
    }

    /**
     * @param int $line from 1
     *
     * @return string what undoes it
     *
     * @throws SomebodyWasFaster if that line says something else by now
     */
    public function set(Actor $actor, Viewer $viewer, Item $item, int $line, string $text, bool $done): string
    {
        $note = Todos::set($item->note, $line, $text, $done) ?? throw new SomebodyWasFaster('desk.todo_is_another');

        return $this->items->change($actor, $viewer, [$item], new ItemChange(note: $note))[1];
    }
}
