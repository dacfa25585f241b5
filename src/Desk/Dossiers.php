<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\OptimisticLockException;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Access\Grants;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Rank;

/** Makes dossiers and changes them. Who may, was asked before; what the gate has to know is told to it in the same transaction. */
final readonly class Dossiers
{
    /** How long one that was deleted can be brought back. */
    public const KEPT = '-30 days';
    private const DEEPEST = 100;
    private const MOST_PEOPLE = 1_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private DossierRepository $dossiers,
        private Grants $grants,
        private ItemGrants $itemGrants,
        private CaptureItems $captureItems,
        private KnownPeople $people,
        private Journal $journal,
        private EventDispatcherInterface $events,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string|null $code that nothing else has; null: another one
     *
     * @throws CannotChange|Circle
     */
    public function make(Actor $actor, DossierChange $wish, ?string $code = null): Dossier
    {
        $dossier = new Dossier($code ?? Codes::random(), $actor->name, $this->clock->now());

        return $this->save($actor, $dossier, $wish, [$actor->name => Part::Lead]);
    }

    /** @throws CannotChange|Circle|SomebodyWasFaster */
    public function change(Actor $actor, Dossier $dossier, DossierChange $wish): Dossier
    {
        return $this->save($actor, $dossier, $wish, $this->dossiers->own($dossier));
    }

    /** It goes with all that lies in it, and can be brought back for a while. */
    public function delete(Actor $actor, Dossier $dossier): void
    {
        $this->mark($dossier, $this->clock->now());
        $this->journal->dossier($actor, $dossier, ActKind::Deleted);
        $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.' deleted'));
    }

    public function restore(Actor $actor, Dossier $dossier): void
    {
        if (null !== $dossier->parent?->deletedAt) {
            $dossier->parent = null;
        }
        $this->mark($dossier, null);
        $this->journal->dossier($actor, $dossier, ActKind::Restored);
        $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.' restored'));
    }

    /** A capture lies in a dossier as an item, with what was written beside it; one that there is already lies there, too. */
    public function lay(Actor $actor, Dossier $dossier, string $capture): Item
    {
        return $this->captureItems->lay($actor, $dossier, $capture);
    }

    public function takeOut(Actor $actor, Dossier $dossier, string $capture): void
    {
        $this->captureItems->takeOut($actor, $dossier, $capture);
    }

    /**
     * Puts a dossier elsewhere, with all that is in it.
     *
     * @param string|false|null $parent code of the one in which it is to lie; null for none; false: it stays
     * @param Dossier|null $beside the one before or behind which it is to be; null: at the end
     *
     * @throws CannotChange|Circle|SomebodyWasFaster
     */
    public function move(Actor $actor, Dossier $dossier, string|false|null $parent, ?Dossier $beside, bool $isBefore): Dossier
    {
        $wanted = false === $parent ? $dossier->parent?->code : $parent;
        if (null !== $beside && ($beside->parent?->code !== $wanted || $beside->code === $dossier->code)) {
            throw new CannotChange('desk.not_side_by_side');
        }

        return $this->save($actor, $dossier, new DossierChange(parent: $parent), $this->dossiers->own($dossier), [$beside, $isBefore]);
    }

    /**
     * Another one after this one: the dossiers in it, their notes and fields.
     *
     * @param bool $withItems whether what lies in them is copied, too
     *
     * @throws CannotChange|Circle
     */
    public function copy(
        Actor $actor,
        Viewer $viewer,
        Dossier $dossier,
        ?string $name,
        string|false|null $parent,
        bool $withItems,
        int $depth = 0,
    ): Dossier {
        $copy = $this->make($actor, new DossierChange(
            $name ?? $dossier->name, $dossier->note, false === $parent ? $dossier->parent?->code : $parent,
            0 === $depth ? false : ($dossier->open ?? false), fields: $dossier->fields(), template: $dossier->code,
        ));
        if ($withItems) {
            $this->captureItems->copyInto($actor, $viewer, $dossier, $copy);
        }

        return $this->copyBelow($actor, $viewer, $dossier, $copy, $withItems, $depth);
    }

    /** What lies in one dossier lies in another one, too, as far as it is seen. */
    public function copyBelow(Actor $actor, Viewer $viewer, Dossier $from, Dossier $into, bool $withItems = false, int $depth = 0): Dossier
    {
        foreach ($depth < self::DEEPEST ? $this->dossiers->in($viewer, $from) : [] as $inner) {
            if ($inner->code !== $into->code) {
                $this->copy($actor, $viewer, $inner, null, $into->code, $withItems, $depth + 1);
            }
        }

        return $into;
    }

    /** What was captured for a dossier lies in it, unless that was deleted meanwhile. */
    #[AsEventListener]
    public function onCaptureEnded(CaptureEnded $event): void
    {
        $dossier = null === $event->dossier || null === $event->captureCode
            ? null : $this->entities->getRepository(Dossier::class)->findOneBy(['code' => $event->dossier]);
        if (null !== $dossier && null !== $event->captureCode) {
            $this->captureItems->lay(new Actor($event->agent), $dossier, $event->captureCode, $event->jobCode, $event->due);
        }
    }

    /**
     * @param array<string, Part> $people of the dossier so far
     * @param array{Dossier|null, bool}|null $where the one beside which it is to be, and whether before it; null: where it is
     *
     * @throws CannotChange|Circle|SomebodyWasFaster
     */
    private function save(Actor $actor, Dossier $dossier, DossierChange $wish, array $people, ?array $where = null): Dossier
    {
        $isNew = null === $dossier->id;
        $above = $dossier->parent;
        $parent = false === $wish->parent ? $dossier->parent : $this->parent($dossier, $wish->parent);
        $changed = $this->changed($people, $wish->people);
        $name = null === $wish->name ? $dossier->name : trim($wish->name);
        if ('' === $name) {
            throw new CannotChange('desk.dossier_has_no_name');
        }
        $was = [$dossier->name, $dossier->note, $dossier->fields, $dossier->place];
        $dossier->name = $name;
        $dossier->note = $wish->note ?? $dossier->note;
        $dossier->open = false === $wish->open ? $dossier->open : $wish->open;
        $dossier->parent = $parent;
        $dossier->fields = null === $wish->fields
            ? $dossier->fields : array_map(static fn (FieldDefinition $field): array => $field->data(), $wish->fields);
        $dossier->template = $wish->template ?? $dossier->template;
        $dossier->changedAt = $this->clock->now();
        $write = function () use ($actor, $wish, $was, $dossier, $changed, $isNew, $above, $where): void {
            if ($isNew || null !== $where || $dossier->parent !== $above) {
                $dossier->place = $this->place($dossier, ...($where ?? [null, false]));
            }
            $this->entities->persist($dossier);
            $this->entities->flush();
            $this->path($dossier);
            $this->database->delete('dossier_person', ['dossier_id' => $dossier->id()]);
            foreach ($changed as $name => $part) {
                $this->database->insert('dossier_person', ['dossier_id' => $dossier->id(), 'name' => $name, 'part' => $part->value]);
            }
            $this->grant($dossier);
            $this->tell($actor, $dossier, $wish, $isNew, $dossier->parent !== $above, $was);
        };
        try {
            $this->entities->wrapInTransaction($write);
        } catch (OptimisticLockException $e) {
            throw new SomebodyWasFaster('desk.somebody_was_faster', [], $e);
        }
        foreach ($wish->people as $name => $part) {
            $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.': '.$name.' → '.($part->value ?? 'nothing')));
        }
        if (false !== $wish->open) {
            $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.': open '.$dossier->opening()->value));
        }

        return $dossier;
    }

    /** @param array{string, string, mixed, string} $was name, note, fields and place before */
    private function tell(Actor $actor, Dossier $dossier, DossierChange $wish, bool $isNew, bool $isMoved, array $was): void
    {
        if ($isNew) {
            $this->journal->dossier($actor, $dossier, null === $wish->template ? ActKind::Made : ActKind::Copied);

            return;
        }
        foreach ([
            [$was[0] !== $dossier->name, ActKind::Renamed, ['from' => $was[0], 'to' => $dossier->name]],
            [$was[1] !== $dossier->note, ActKind::Note, []],
            [$was[2] !== $dossier->fields, ActKind::OwnFields, []],
            [$isMoved, ActKind::Moved, []],
            [!$isMoved && $was[3] !== $dossier->place, ActKind::Ordered, []],
            [false !== $wish->open, ActKind::from('opened-'.$dossier->opening()->value), []],
        ] as [$is, $kind, $values]) {
            if ($is) {
                $this->journal->dossier($actor, $dossier, $kind, $values);
            }
        }
        foreach ($wish->people as $name => $part) {
            $this->journal->dossier(
                $actor, $dossier, null === $part ? ActKind::NoPerson : ActKind::from('person-'.$part->value), ['what' => $name],
            );
        }
    }

    /**
     * @param array<string, Part> $people
     * @param array<string, Part|null> $wish
     *
     * @return array<string, Part>
     *
     * @throws CannotChange
     */
    private function changed(array $people, array $wish): array
    {
        foreach ($wish as $name => $part) {
            if (null === $part) {
                unset($people[$name]);
                continue;
            }
            if (null === $this->people->viewer($name)->name) {
                throw new CannotChange('desk.no_such_person', ['name' => mb_strimwidth($name, 0, 100, '…')]);
            }
            $people[$this->people->viewer($name)->name] = $part;
        }
        if (!\in_array(Part::Lead, $people, true)) {
            throw new CannotChange('desk.last_lead');
        }
        if (\count($people) > self::MOST_PEOPLE) {
            throw new CannotChange('desk.too_many_people', ['most' => self::MOST_PEOPLE]);
        }

        return $people;
    }

    /** @throws Circle */
    private function parent(Dossier $dossier, ?string $code): ?Dossier
    {
        $parent = null === $code
            ? null : $this->entities->getRepository(Dossier::class)->findOneBy(['code' => $code, 'deletedAt' => null]);
        $depth = 0;
        for ($one = $parent; null !== $one; $one = $one->parent) {
            if ($one->code === $dossier->code || ++$depth > self::DEEPEST) {
                throw new Circle('desk.circle');
            }
        }

        return $parent;
    }

    /** Where it stands among those in the same one. */
    private function place(Dossier $dossier, ?Dossier $beside, bool $isBefore): string
    {
        $parent = $dossier->parent?->id();
        $among = 'd.deleted_at IS NULL AND d.parent_id <=> ? AND d.id <> ?';
        $values = [$parent, $dossier->id ?? 0];
        if (null === $beside) {
            $last = $this->database->fetchOne('SELECT MAX(d.place) FROM dossier d WHERE '.$among, $values);

            return Rank::between(\is_string($last) ? $last : null, null);
        }
        $other = $this->database->fetchOne(
            $isBefore
                ? 'SELECT MAX(d.place) FROM dossier d WHERE '.$among.' AND d.place < ?'
                : 'SELECT MIN(d.place) FROM dossier d WHERE '.$among.' AND d.place > ?',
            [...$values, $beside->place],
        );
        $other = \is_string($other) ? $other : null;

        return $isBefore ? Rank::between($other, $beside->place) : Rank::between($beside->place, $other);
    }

    private function path(Dossier $dossier): void
    {
        $path = ($dossier->parent->path ?? '').$dossier->step();
        if ($path !== $dossier->path) {
            if ('' !== $dossier->path) {
                $this->database->executeStatement(
                    'UPDATE dossier SET path = CONCAT(?, SUBSTRING(path, ?)) WHERE path LIKE ? AND id <> ?',
                    [$path, \strlen($dossier->path) + 1, $dossier->path.'%', $dossier->id()],
                );
            }
            $dossier->path = $path;
            $this->entities->flush();
            foreach ($this->below($dossier) as $one) {
                $this->entities->refresh($one);
            }
        }
    }

    private function mark(Dossier $dossier, ?\DateTimeImmutable $at): void
    {
        $before = $dossier->deletedAt;
        $this->entities->wrapInTransaction(function () use ($dossier, $at, $before): void {
            $below = $this->below($dossier);
            foreach ($below as $one) {
                // What was deleted before by itself stays so.
                if ($one->deletedAt?->format('U.u') === $before?->format('U.u')) {
                    $one->deletedAt = $at;
                }
            }
            $this->entities->flush();
            $this->captureItems->deletedWith(array_map(static fn (Dossier $one): int => $one->id(), $below), $before, $at);
            $this->grant($dossier, true);
        });
    }

    /** Tells the gate who belongs to a dossier and to those in it, by themselves and by those in which they lie. */
    private function grant(Dossier $dossier, bool $withItems = false): void
    {
        $opened = [];
        $above = $dossier->parent;
        $known = null === $above ? [] : [$above->id() => $this->effective($above)];
        foreach ($this->below($dossier) as $one) {
            $inherited = null === $one->parent || Opening::Private === $one->open ? [] : $known[$one->parent->id()] ?? [];
            $people = null === $one->deletedAt ? array_replace($inherited, $this->dossiers->own($one)) : [];
            $known[$one->id()] = $people;
            $this->grants->members($one->code, array_map(static fn (Part $part): string => $part->value, $people));
            $limited = Opening::All !== $one->opening();
            if ($withItems || $limited !== $one->limited) {
                $opened[] = $one->id();
            }
            $one->limited = $limited;
        }
        $this->entities->flush();
        $this->itemGrants->ofDossiers($opened);
    }

    /** @return array<string, Part> by name */
    private function effective(Dossier $dossier): array
    {
        $inherited = null === $dossier->parent || Opening::Private === $dossier->open ? [] : $this->effective($dossier->parent);

        return array_replace($inherited, $this->dossiers->own($dossier));
    }

    /** @return list<Dossier> that one, and those below it behind those in which they lie */
    private function below(Dossier $dossier): array
    {
        $all = [$dossier];
        $ids = [$dossier->id()];
        while ([] !== $ids) {
            $query = $this->entities->createQuery('SELECT d FROM '.Dossier::class.' d WHERE d.parent IN (:ids) ORDER BY d.id')
                ->setParameter('ids', $ids, ArrayParameterType::INTEGER);
            /** @var list<Dossier> $found */
            $found = $query->getResult();
            $ids = array_map(static fn (Dossier $one): int => $one->id(), $found);
            array_push($all, ...$found);
        }

        return $all;
    }
}
