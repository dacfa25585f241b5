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
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;

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
        private KnownPeople $people,
        private EventDispatcherInterface $events,
        private ClockInterface $clock,
    ) {
    }

    /** @throws CannotChange|Circle */
    public function make(Actor $actor, DossierChange $wish): Dossier
    {
        $dossier = new Dossier(Codes::random(), $actor->name, $this->clock->now());

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
        $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.' deleted'));
    }

    public function restore(Actor $actor, Dossier $dossier): void
    {
        if (null !== $dossier->parent?->deletedAt) {
            $dossier->parent = null;
        }
        $this->mark($dossier, null);
        $this->events->dispatch(new SettingChanged($actor, 'dossier '.$dossier->code.' restored'));
    }

    public function lay(Actor $actor, Dossier $dossier, string $capture): void
    {
        TransactionRetry::transaction($this->database, function () use ($actor, $dossier, $capture): void {
            $this->database->executeStatement(
                'INSERT IGNORE INTO dossier_capture (dossier_id, capture_code, person, laid_at) VALUES (?, ?, ?, ?)',
                [$dossier->id(), $capture, $actor->name, MomentType::text($this->clock->now())],
            );
            $this->grants->held([$capture], $dossier->code);
        });
    }

    public function takeOut(Dossier $dossier, string $capture): void
    {
        TransactionRetry::transaction($this->database, function () use ($dossier, $capture): void {
            $this->database->delete('dossier_capture', ['dossier_id' => $dossier->id(), 'capture_code' => $capture]);
            $this->grants->noLongerHeld([$capture], $dossier->code);
        });
    }

    /** What was captured for a dossier lies in it, unless that was deleted meanwhile. */
    #[AsEventListener]
    public function onCaptureEnded(CaptureEnded $event): void
    {
        $dossier = null === $event->dossier || null === $event->captureCode
            ? null : $this->entities->getRepository(Dossier::class)->findOneBy(['code' => $event->dossier]);
        if (null !== $dossier && null !== $event->captureCode) {
            $this->lay(new Actor($event->agent), $dossier, $event->captureCode);
        }
    }

    /**
     * @param array<string, Part> $people of the dossier so far
     *
     * @throws CannotChange|Circle|SomebodyWasFaster
     */
    private function save(Actor $actor, Dossier $dossier, DossierChange $wish, array $people): Dossier
    {
        $parent = false === $wish->parent ? $dossier->parent : $this->parent($dossier, $wish->parent);
        $changed = $this->changed($people, $wish->people);
        $name = null === $wish->name ? $dossier->name : trim($wish->name);
        if ('' === $name) {
            throw new CannotChange('desk.dossier_has_no_name');
        }
        $dossier->name = $name;
        $dossier->note = $wish->note ?? $dossier->note;
        $dossier->open = false === $wish->open ? $dossier->open : $wish->open;
        $dossier->parent = $parent;
        $dossier->changedAt = $this->clock->now();
        $write = function () use ($dossier, $changed): void {
            $this->entities->persist($dossier);
            $this->entities->flush();
            $this->database->delete('dossier_person', ['dossier_id' => $dossier->id()]);
            foreach ($changed as $name => $part) {
                $this->database->insert('dossier_person', ['dossier_id' => $dossier->id(), 'name' => $name, 'part' => $part->value]);
            }
            $this->grant($dossier);
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

    private function mark(Dossier $dossier, ?\DateTimeImmutable $at): void
    {
        $before = $dossier->deletedAt;
        $this->entities->wrapInTransaction(function () use ($dossier, $at, $before): void {
            foreach ($this->below($dossier) as $one) {
                // What was deleted before by itself stays so.
                if ($one->deletedAt?->format('U.u') === $before?->format('U.u')) {
                    $one->deletedAt = $at;
                }
            }
            $this->entities->flush();
            $this->grant($dossier);
        });
    }

    /** Tells the gate who belongs to a dossier and to those in it, by themselves and by those in which they lie. */
    private function grant(Dossier $dossier): void
    {
        $above = $dossier->parent;
        $known = null === $above ? [] : [$above->id() => $this->effective($above)];
        foreach ($this->below($dossier) as $one) {
            $inherited = null === $one->parent || Opening::Private === $one->open ? [] : $known[$one->parent->id()] ?? [];
            $people = null === $one->deletedAt ? array_replace($inherited, $this->dossiers->own($one)) : [];
            $known[$one->id()] = $people;
            $this->grants->members($one->code, array_map(static fn (Part $part): string => $part->value, $people));
            $one->limited = Opening::All !== $one->opening();
        }
        $this->entities->flush();
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
