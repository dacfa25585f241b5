<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\AidEntry;
use Ypomna\App\Desk\Value\FindingAid;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Desk\Value\ShownField;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;

/**
 * Finding aids. A living one lists what there is when it is read; a fixed one what there was when it was made, also of what was deleted
 * since. One of a dossier is seen by whoever sees that, one of chosen items by whoever sees all of them; what a reader may not see is
 * not named in either.
 */
final readonly class FindingAids
{
    public const MOST_ENTRIES = 20_000;
    public const LONGEST_TITLE = 1_000;
    public const LONGEST_NOTE = 65_000;
    private const LISTED = 200;

    public function __construct(
        private Connection $database,
        private ItemRepository $items,
        private DossierRepository $dossiers,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param Dossier|list<Item> $of the dossier, or chosen items
     *
     * @return string its code
     *
     * @throws CannotChange
     */
    public function make(Actor $actor, Viewer $viewer, Dossier|array $of, string $title, string $note, bool $isFixed): string
    {
        $title = mb_substr(trim($title), 0, self::LONGEST_TITLE);
        if ('' === $title) {
            throw new CannotChange('desk.aid_has_no_title');
        }
        $dossier = $of instanceof Dossier ? $of : null;
        $codes = \is_array($of) ? array_map(static fn (Item $item): string => $item->code, $of) : null;
        $fixed = $isFixed ? json_encode(
            array_map(get_object_vars(...), iterator_to_array($this->living($viewer, $dossier, $codes), false)),
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_INVALID_UTF8_SUBSTITUTE,
        ) : null;
        $code = Codes::random();
        $this->database->insert('finding_aid', [
            'code' => $code, 'dossier_id' => $dossier?->id(), 'title' => $title, 'note' => mb_strcut(trim($note), 0, self::LONGEST_NOTE),
            'items' => null === $codes ? null : json_encode($codes, \JSON_THROW_ON_ERROR), 'fixed' => $fixed,
            'sha256' => null === $fixed ? null : hash('sha256', $fixed), 'person' => $actor->name,
            'made_at' => MomentType::text($this->clock->now()),
        ]);

        return $code;
    }

    public function byCode(Viewer $viewer, string $code): ?FindingAid
    {
        return $this->some($viewer, 'code = ?', [$code])[0] ?? null;
    }

    /** @return list<FindingAid> of a dossier, the newest first; without what stands in fixed ones */
    public function ofDossier(Viewer $viewer, Dossier $dossier): array
    {
        return $this->some($viewer, 'dossier_id = ?', [$dossier->id()], false);
    }

    /** @return list<FindingAid> that somebody made, the newest first; without what stands in fixed ones */
    public function madeBy(Viewer $viewer): array
    {
        return null === $viewer->name ? [] : $this->some($viewer, 'person = ?', [$viewer->name], false);
    }

    /** Whoever made it may, and who leads its dossier. */
    public function mayDelete(Viewer $viewer, FindingAid $aid): bool
    {
        return $aid->person === $viewer->name || (null !== $aid->dossier && $this->dossiers->may($viewer, $aid->dossier, Part::Lead));
    }

    public function delete(FindingAid $aid): void
    {
        $this->database->delete('finding_aid', ['code' => $aid->code]);
    }

    /**
     * What stands in it, as far as somebody may see that.
     *
     * @return array{list<AidEntry>, int} and how many entries are not for them
     */
    public function entries(Viewer $viewer, FindingAid $aid): array
    {
        if (null === $aid->fixed) {
            return [iterator_to_array($this->living($viewer, $aid->dossier, $aid->items), false), 0];
        }
        $rows = json_decode($aid->fixed, true, 16, \JSON_THROW_ON_ERROR);
        $entries = array_map(
            static fn (mixed $row): AidEntry => AidEntry::of(\is_array($row) ? $row : []), array_values(\is_array($rows) ? $rows : []),
        );
        $seen = [];
        foreach (array_chunk($entries, 1_000) as $some) {
            $seen += $this->items->everSeen($viewer, array_map(static fn (AidEntry $one): string => $one->code, $some));
        }
        $left = array_values(array_filter($entries, static fn (AidEntry $one): bool => isset($seen[$one->code])));

        return [$left, \count($entries) - \count($left)];
    }

    /**
     * @param list<string>|null $codes
     *
     * @return \Generator<int, AidEntry>
     */
    private function living(Viewer $viewer, ?Dossier $dossier, ?array $codes): \Generator
    {
        $n = 0;
        foreach (null === $dossier ? [] : $this->dossiers->tree($viewer, $dossier) as $one) {
            $name = implode(' › ', array_map(
                static fn (Dossier $above): string => $above->name, [...$this->dossiers->path($viewer, $one), $one],
            ));
            $query = new ItemQuery(dossier: $one->code, order: ItemOrder::Hand, most: 200);
            while ([] !== ($found = $this->items->list($viewer, $query))) {
                foreach ($this->items->shown($viewer, $found) as $shown) {
                    yield $n++ => self::entry($shown, $name);
                    if ($n >= self::MOST_ENTRIES) {
                        return;
                    }
                }
                $query = $query->from($this->items->cursor($viewer, $query, $found[\count($found) - 1]));
            }
        }
        foreach (array_chunk($codes ?? [], 200) as $some) {
            foreach ($this->items->shown($viewer, $this->items->byCodes($viewer, $some)) as $shown) {
                yield $n++ => self::entry($shown, '');
            }
        }
    }

    private static function entry(ShownItem $shown, string $dossier): AidEntry
    {
        $fields = [];
        foreach ($shown->item->fields as $name => $value) {
            $fields[(string) $name] = (new ShownField((string) $name, FieldType::of($value), [], $value))->text();
        }

        return new AidEntry(
            $shown->item->code, $shown->item->kind->value, $shown->name(), $shown->item->summary, $dossier, $shown->tags, $fields,
            $shown->capture->url ?? (null === $shown->item->captureCode ? $shown->item->url : null), $shown->capture?->code,
            null === $shown->capture ? null : $shown->capture->capturedAt->format('Y-m-d\TH:i:s.v\Z'),
        );
    }

    /**
     * @param list<string|int> $values
     *
     * @return list<FindingAid>
     */
    private function some(Viewer $viewer, string $where, array $values, bool $whole = true): array
    {
        $aids = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT code, dossier_id, title, note, items, '.($whole
                ? 'fixed' : "IF(fixed IS NULL, NULL, '[]') AS fixed").', sha256, person,'
                .' made_at FROM finding_aid WHERE '.$where.' ORDER BY id DESC LIMIT '.self::LISTED,
            $values,
        ) as $row) {
            $row = new Row($row);
            $dossier = $row->intOrNull('dossier_id');
            $of = null === $dossier ? null : $this->dossiers->byNumbers($viewer, [$dossier])[$dossier] ?? null;
            $items = null === $row->textOrNull('items') ? null : json_decode($row->text('items'), true);
            $codes = \is_array($items) ? array_values(array_filter($items, \is_string(...))) : null;
            $isSeen = null !== $dossier ? null !== $of
                : $row->text('person') === $viewer->name || \count($this->items->everSeen($viewer, $codes ?? [])) === \count($codes ?? []);
            if ($isSeen) {
                $aids[] = new FindingAid(
                    $row->text('code'), $row->text('title'), $row->text('note'), $of, $codes, $row->textOrNull('fixed'),
                    $row->textOrNull('sha256'), $row->text('person'), $row->moment('made_at'),
                );
            }
        }

        return $aids;
    }
}
