<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Access\Grants;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Rank;

/**
 * Which items lie in which dossiers, in what order. A capture is held by the dossiers in which an item of it lies: that is told to the
 * gate here.
 */
final readonly class Laying
{
    public function __construct(
        private Connection $database,
        private DossierRepository $dossiers,
        private Grants $grants,
        private ClockInterface $clock,
    ) {
    }

    /** @return array<int, string> places by number of the dossier, also of those that were deleted */
    public function of(Item $item): array
    {
        $places = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT dossier_id, place FROM item_dossier WHERE item_id = ? ORDER BY dossier_id', [$item->id()],
        ) as $values) {
            $row = new Row($values);
            $places[$row->int('dossier_id')] = $row->text('place');
        }

        return $places;
    }

    /** @return array<string, Dossier> those in which an item lies, by code, as far as somebody sees them */
    public function seen(Viewer $viewer, Item $item): array
    {
        $codes = array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT d.code FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id WHERE h.item_id = ?', [$item->id()],
        ), \is_string(...)));
        $seen = [];
        foreach ($this->dossiers->byCodes($viewer, $codes) as $dossier) {
            $seen[$dossier->code] = $dossier;
        }

        return $seen;
    }

    /**
     * @param list<string> $codes
     *
     * @return array<string, Dossier> by code
     *
     * @throws WrongValue if somebody may not lay into one of them, or it does not exist
     */
    public function writable(Viewer $viewer, array $codes, string $pointer): array
    {
        $codes = array_values(array_unique($codes));
        $found = [];
        foreach ($this->dossiers->byCodes($viewer, $codes) as $dossier) {
            if ($this->dossiers->may($viewer, $dossier, Part::Writer)) {
                $found[$dossier->code] = $dossier;
            }
        }
        foreach ($codes as $code) {
            if (!isset($found[$code])) {
                throw new WrongValue($pointer, 'There is no such dossier into which you may lay something: '.mb_substr($code, 0, 20).'.');
            }
        }

        return $found;
    }

    public function lay(Actor $actor, Item $item, Dossier $dossier): void
    {
        $last = $this->database->fetchOne('SELECT MAX(place) FROM item_dossier WHERE dossier_id = ?', [$dossier->id()]);
        $this->insert($actor, $item, $dossier->id(), Rank::between(\is_string($last) ? $last : null, null));
    }

    public function takeOut(Item $item, Dossier $dossier): void
    {
        $this->database->delete('item_dossier', ['dossier_id' => $dossier->id(), 'item_id' => $item->id()]);
        $this->grantCaptures([$item->id()], [$dossier->code]);
    }

    /**
     * Puts an item before or behind another one of the same dossier, or at the end.
     *
     * @throws WrongValue
     */
    public function place(Item $item, Dossier $dossier, ?Item $beside, bool $isBefore): void
    {
        $place = null === $beside ? null : ($this->of($beside)[$dossier->id()] ?? null);
        if (null !== $beside && (null === $place || $beside->id() === $item->id())) {
            throw new WrongValue($isBefore ? '/before' : '/after', 'These two do not lie in the same dossier.');
        }
        $other = $this->database->fetchOne(
            match (true) {
                null === $place => 'SELECT MAX(place) FROM item_dossier WHERE dossier_id = ? AND item_id <> ?',
                $isBefore => 'SELECT MAX(place) FROM item_dossier WHERE dossier_id = ? AND item_id <> ? AND place < ?',
                default => 'SELECT MIN(place) FROM item_dossier WHERE dossier_id = ? AND item_id <> ? AND place > ?',
            },
            [$dossier->id(), $item->id(), ...(null === $place ? [] : [$place])],
        );
        $other = \is_string($other) ? $other : null;
        $new = match (true) {
            null === $place => Rank::between($other, null),
            $isBefore => Rank::between($other, $place),
            default => Rank::between($place, $other),
        };
        $this->database->update('item_dossier', ['place' => $new], ['dossier_id' => $dossier->id(), 'item_id' => $item->id()]);
        if (\strlen($new) > Rank::LONGEST) {
            $this->spread($dossier->id());
        }
    }

    /**
     * As it lay before an act.
     *
     * @param array<int, string> $places by number of the dossier
     */
    public function putBack(Actor $actor, Item $item, array $places): void
    {
        foreach (array_diff_key($this->of($item), $places) as $dossier => $place) {
            $this->database->delete('item_dossier', ['dossier_id' => $dossier, 'item_id' => $item->id()]);
        }
        foreach ($places as $dossier => $place) {
            $this->insert($actor, $item, $dossier, $place);
        }
        $this->grantCaptures([$item->id()]);
    }

    /**
     * Tells the gate which dossiers hold the captures of items.
     *
     * @param list<int> $ids
     * @param list<string> $and codes of dossiers that may hold them no longer
     */
    public function grantCaptures(array $ids, array $and = []): void
    {
        foreach ([] === $ids ? [] : array_unique(array_filter($this->database->fetchFirstColumn(
            'SELECT capture_code FROM item WHERE id IN (?) AND capture_code IS NOT NULL', [$ids], [ArrayParameterType::INTEGER],
        ), \is_string(...))) as $capture) {
            $holding = array_values(array_filter($this->database->fetchFirstColumn(
                'SELECT DISTINCT d.code FROM item i JOIN item_dossier h ON h.item_id = i.id JOIN dossier d ON d.id = h.dossier_id'
                    .' WHERE i.capture_code = ? AND i.deleted_at IS NULL',
                [$capture],
            ), \is_string(...)));
            foreach (array_diff([...$this->grants->holders($capture), ...$and], $holding) as $no) {
                $this->grants->noLongerHeld([$capture], $no);
            }
            foreach ($holding as $dossier) {
                $this->grants->held([$capture], $dossier);
            }
        }
    }

    private function insert(Actor $actor, Item $item, int $dossier, string $place): void
    {
        $this->database->executeStatement(
            'INSERT INTO item_dossier (dossier_id, item_id, place, person, laid_at) VALUES (?, ?, ?, ?, ?)'
                .' ON DUPLICATE KEY UPDATE place = VALUES(place)',
            [$dossier, $item->id(), $place, $actor->name, MomentType::text($this->clock->now())],
        );
        $this->grantCaptures([$item->id()]);
    }

    private function spread(int $dossier): void
    {
        $ids = $this->database->fetchFirstColumn(
            'SELECT item_id FROM item_dossier WHERE dossier_id = ? ORDER BY place, item_id FOR UPDATE', [$dossier],
        );
        foreach (Rank::spread(\count($ids)) as $n => $place) {
            $this->database->update('item_dossier', ['place' => $place], ['dossier_id' => $dossier, 'item_id' => $ids[$n]]);
        }
    }
}
