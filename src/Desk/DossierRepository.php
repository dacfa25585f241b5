<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Access\Right;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Finds dossiers, as far as somebody may see them, and says what they may do in them. */
final readonly class DossierRepository
{
    public const PAGE = 50;
    private const MOST_BELOW = 20_000;
    /** Dossiers that a form offers. */
    private const OFFERED = 200;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private Gate $gate,
        private Grants $grants,
    ) {
    }

    public function byCode(Viewer $viewer, string $code): ?Dossier
    {
        return $this->some($viewer, 'd.code = :code AND d.deletedAt IS NULL', ['code' => $code], 1)[0] ?? null;
    }

    /**
     * @param list<string> $codes
     *
     * @return list<Dossier> those of them that are seen
     */
    public function byCodes(Viewer $viewer, array $codes): array
    {
        return [] === $codes
            ? [] : $this->some($viewer, 'd.code IN (:codes) AND d.deletedAt IS NULL', ['codes' => $codes], \count($codes));
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, Dossier> by number, those of them that are seen
     */
    public function byNumbers(Viewer $viewer, array $ids): array
    {
        $found = [] === $ids ? [] : $this->some($viewer, 'd.id IN (:ids) AND d.deletedAt IS NULL', ['ids' => $ids], \count($ids));

        return array_combine(array_map(static fn (Dossier $one): int => $one->id(), $found), $found);
    }

    /** Whether some dossier has that code, seen or not. */
    public function isTaken(string $code): bool
    {
        return false !== $this->database->fetchOne('SELECT 1 FROM dossier WHERE code = ?', [$code]);
    }

    /**
     * That one and those below it, as far as they are seen.
     *
     * @return list<Dossier> those in which others lie before these
     */
    public function tree(Viewer $viewer, Dossier $dossier): array
    {
        return $this->some(
            $viewer, 'd.path LIKE :path AND d.deletedAt IS NULL', ['path' => $dossier->path.'%'], self::MOST_BELOW, 'd.path',
        );
    }

    /** @return non-empty-list<int> numbers of that one and those below it, as far as they are seen */
    public function numbersBelow(Viewer $viewer, Dossier $dossier): array
    {
        $ids = $this->database->fetchFirstColumn(
            'SELECT d.id FROM dossier d WHERE d.path LIKE ? AND d.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('d.limited', 'd.code'),
            [$dossier->path.'%'],
        );

        return [$dossier->id(), ...array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids)];
    }

    /** One that was deleted and can still be brought back; only who led it is told of it. */
    public function deleted(Viewer $viewer, string $code, \DateTimeImmutable $since): ?Dossier
    {
        $dossier = $this->entities->getRepository(Dossier::class)->findOneBy(['code' => $code]);
        if (null === $dossier || null === $dossier->deletedAt || $dossier->deletedAt < $since) {
            return null;
        }
        $part = $this->own($dossier)[$viewer->name ?? ''] ?? null;

        return Part::Lead === $part || $this->gate->sight($viewer)->isWhole() ? $dossier : null;
    }

    /**
     * Dossiers by when they were made.
     *
     * @param int $after number of the one that was shown last; 0 at the beginning
     *
     * @return list<Dossier>
     */
    public function all(Viewer $viewer, int $after = 0, int $most = self::PAGE): array
    {
        return $this->some($viewer, 'd.deletedAt IS NULL AND d.id > :after', ['after' => $after], $most);
    }

    /**
     * The dossiers that lie in one.
     *
     * @return list<Dossier> as they were put in order
     */
    public function in(Viewer $viewer, Dossier $parent): array
    {
        return $this->some(
            $viewer, 'd.parent = :parent AND d.deletedAt IS NULL', ['parent' => $parent->id()], self::OFFERED, 'd.place, d.id',
        );
    }

    /** @return list<Dossier> in the names of which it stands, the one that was changed last first */
    public function called(Viewer $viewer, string $typed, int $most): array
    {
        return $this->some(
            $viewer, 'd.deletedAt IS NULL AND d.name LIKE :name', ['name' => '%'.addcslashes($typed, '\\%_').'%'], $most,
            'd.changedAt DESC, d.id DESC',
        );
    }

    /**
     * Dossiers into which somebody may lay something, the one that was changed last first.
     *
     * @param string $typed what is in their names; '' if that does not matter
     *
     * @return list<Dossier>
     */
    public function writable(Viewer $viewer, string $typed = '', int $most = self::OFFERED): array
    {
        if (!$this->gate->may($viewer, Right::Keep)) {
            return [];
        }
        $like = '%'.addcslashes($typed, '\\%_').'%';
        if ($this->gate->sight($viewer)->isWhole()) {
            return $this->some(
                $viewer, 'd.deletedAt IS NULL AND d.name LIKE :name', ['name' => $like], $most, 'd.changedAt DESC, d.id DESC',
            );
        }
        $codes = $this->grants->memberships((string) $viewer->name, [Part::Writer->value, Part::Lead->value]);
        // Whoever belongs to a dossier sees it: that need not be asked again of each.
        $ids = [] === $codes ? [] : $this->database->fetchFirstColumn(
            'SELECT id FROM dossier WHERE code IN (?) AND deleted_at IS NULL AND name LIKE ? ORDER BY changed_at DESC, id DESC LIMIT '
                .max(1, $most),
            [$codes, $like], [ArrayParameterType::STRING],
        );

        return [] === $ids ? [] : $this->some($viewer, 'd.id IN (:ids)', ['ids' => $ids], $most, 'd.changedAt DESC, d.id DESC');
    }

    /** Whether somebody may do in a dossier what that part may; whoever sees everything may do everything. */
    public function may(Viewer $viewer, Dossier $dossier, Part $part): bool
    {
        if (Part::Reader !== $part && !$this->gate->may($viewer, Right::Keep)) {
            return false;
        }
        $own = null === $viewer->name ? null : Part::tryFrom($this->grants->part($dossier->code, $viewer->name) ?? '');

        return true === $own?->reaches($part) || $this->gate->sight($viewer)->isWhole()
            || (Part::Reader === $part && Opening::All === $dossier->opening() && null !== $viewer->role);
    }

    /**
     * Who belongs to a dossier by itself; those of the ones in which it lies are not named again.
     *
     * @return array<string, Part> by name
     */
    public function own(Dossier $dossier): array
    {
        $people = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT name, part FROM dossier_person WHERE dossier_id = ? ORDER BY name', [$dossier->id()],
        ) as $values) {
            $row = new Row($values);
            $people[$row->text('name')] = Part::from($row->text('part'));
        }

        return $people;
    }

    /**
     * Captures that a dossier holds, the one that was laid there last first; some of them the viewer may not see.
     *
     * @return list<string> codes
     */
    public function captures(Viewer $viewer, Dossier $dossier, int $most = 500): array
    {
        return array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT i.capture_code FROM item_dossier h JOIN item i ON i.id = h.item_id'
                .' WHERE h.dossier_id = ? AND i.capture_code IS NOT NULL AND i.deleted_at IS NULL'
                .' GROUP BY i.capture_code ORDER BY MAX(h.laid_at) DESC, i.capture_code LIMIT '.max(1, $most),
            [$dossier->id()],
        ), \is_string(...)));
    }

    /**
     * The dossiers that hold a capture.
     *
     * @return list<Dossier> by name
     */
    public function holding(Viewer $viewer, string $capture): array
    {
        $ids = $this->database->fetchFirstColumn(
            'SELECT DISTINCT h.dossier_id FROM item i JOIN item_dossier h ON h.item_id = i.id'
                .' WHERE i.capture_code = ? AND i.deleted_at IS NULL LIMIT 200',
            [$capture],
        );

        return [] === $ids
            ? [] : $this->some($viewer, 'd.id IN (:ids) AND d.deletedAt IS NULL', ['ids' => $ids], self::OFFERED, 'd.name, d.id');
    }

    /**
     * In which dossier each lies, as far as that is seen.
     *
     * @param list<Dossier> $dossiers
     *
     * @return array<string, Dossier> by code of what lies in it
     */
    public function parents(Viewer $viewer, array $dossiers): array
    {
        $ids = array_values(array_unique(array_filter(
            array_map(static fn (Dossier $one): ?int => $one->parent?->id, $dossiers), \is_int(...),
        )));
        $seen = [];
        foreach ([] === $ids ? [] : $this->some($viewer, 'd.id IN (:ids) AND d.deletedAt IS NULL', ['ids' => $ids], \count($ids)) as $one) {
            $seen[$one->id()] = $one;
        }
        $parents = [];
        foreach ($dossiers as $one) {
            $parent = $seen[$one->parent->id ?? 0] ?? null;
            if (null !== $parent) {
                $parents[$one->code] = $parent;
            }
        }

        return $parents;
    }

    /**
     * The dossiers in which one lies, as far as they are seen.
     *
     * @return list<Dossier> the outermost first
     */
    public function path(Viewer $viewer, Dossier $dossier): array
    {
        $path = [];
        for ($one = $dossier->parent; null !== $one && \count($path) < 100; $one = $one->parent) {
            if ($this->may($viewer, $one, Part::Reader)) {
                array_unshift($path, $one);
            }
        }

        return $path;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<Dossier>
     */
    private function some(Viewer $viewer, string $where, array $parameters, int $most, string $order = 'd.id'): array
    {
        $sight = $this->gate->sight($viewer);
        $query = $this->entities->createQuery(\sprintf(
            'SELECT d FROM %s d WHERE %s AND %s ORDER BY %s', Dossier::class, $where, $sight->dql('d.limited', 'd.code'), $order,
        ))->setMaxResults($most);
        foreach ($parameters + $sight->parameters() as $name => $value) {
            $query->setParameter($name, $value);
        }
        /** @var list<Dossier> $found */
        $found = $query->getResult();

        return $found;
    }
}
