<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\Viewer;

/** Finds captures: by code, by address and moment, by their neighbours. */
final readonly class CaptureRepository
{
    public function __construct(
        private EntityManagerInterface $entities,
        private AddressRepository $addresses,
        private JoinedAddresses $joined,
    ) {
    }

    public function byCode(Viewer $viewer, string $code): ?Capture
    {
        return $this->one($viewer, 'c.code = :code', 'c.id ASC', ['code' => $code]);
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, Capture> by number
     */
    public function byIds(Viewer $viewer, array $ids): array
    {
        $captures = [];
        foreach ([] === $ids ? [] : $this->some($viewer, 'c.id IN (:ids)', 'c.id ASC', ['ids' => $ids], \count($ids)) as $capture) {
            $captures[(int) $capture->id] = $capture;
        }

        return $captures;
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, string> permanent addresses by number
     */
    public function codes(Viewer $viewer, array $ids): array
    {
        $codes = [];
        $rows = [] === $ids
            ? []
            : $this->entities->createQuery(\sprintf('SELECT c.id, c.code FROM %s c WHERE c.id IN (:ids)', Capture::class))
                ->setParameter('ids', $ids)->getArrayResult();
        foreach ($rows as $values) {
            if (\is_array($values) && is_numeric($values['id'] ?? null) && \is_string($values['code'] ?? null)) {
                $codes[(int) $values['id']] = $values['code'];
            }
        }

        return $codes;
    }

    /** The capture of that address which lies nearest to a moment. */
    public function nearest(Viewer $viewer, string $url, \DateTimeImmutable $moment): ?Capture
    {
        $address = $this->addresses->of($viewer, $url);
        if (null === $address) {
            return null;
        }

        return self::nearer(
            $this->ofAll($viewer, $address, 'c.capturedAt <= :at', 'DESC', ['at' => $moment]),
            $this->ofAll($viewer, $address, 'c.capturedAt > :at', 'ASC', ['at' => $moment]),
            $moment,
        );
    }

    private static function nearer(?Capture $before, ?Capture $after, \DateTimeImmutable $moment): ?Capture
    {
        if (null === $before || null === $after) {
            return $before ?? $after;
        }
        $distance = self::distanceTo($moment);

        return $distance($before) <= $distance($after) ? $before : $after;
    }

    /**
     * Captures of an address that have the page itself, and did not fail, around a moment.
     *
     * @param int $most before it, and as many after it
     *
     * @return list<Capture> those that lie nearer to it before the others
     */
    public function aliveAround(Viewer $viewer, Address $address, \DateTimeImmutable $moment, int $most): array
    {
        $alive = "c.status >= 200 AND c.status < 300 AND (c.verdict IS NULL OR c.verdict <> 'failed') AND ";
        $found = [];
        foreach ($this->joined->of($viewer, $address) as $one) {
            foreach (['c.capturedAt <= :at' => 'DESC', 'c.capturedAt > :at' => 'ASC'] as $where => $order) {
                array_push(
                    $found,
                    ...$this->some(
                        $viewer,
                        'c.address = :address AND '.$alive.$where,
                        "c.capturedAt {$order}, c.id {$order}",
                        ['address' => $one, 'at' => $moment],
                        $most,
                    ),
                );
            }
        }
        $distance = self::distanceTo($moment);
        usort($found, static fn (Capture $a, Capture $b): int => [$distance($a), $a->id] <=> [$distance($b), $b->id]);

        return $found;
    }

    public function earlier(Viewer $viewer, Capture $capture): ?Capture
    {
        return $this->ofAll(
            $viewer,
            $capture->address,
            '(c.capturedAt < :at OR (c.capturedAt = :at AND c.id < :id))',
            'DESC',
            ['at' => $capture->capturedAt, 'id' => $capture->id],
        );
    }

    public function later(Viewer $viewer, Capture $capture): ?Capture
    {
        return $this->ofAll(
            $viewer,
            $capture->address,
            '(c.capturedAt > :at OR (c.capturedAt = :at AND c.id > :id))',
            'ASC',
            ['at' => $capture->capturedAt, 'id' => $capture->id],
        );
    }

    public function first(Viewer $viewer, Address $address): ?Capture
    {
        return $this->ofAll($viewer, $address, '1 = 1', 'ASC', []);
    }

    public function last(Viewer $viewer, Address $address): ?Capture
    {
        return $this->ofAll($viewer, $address, '1 = 1', 'DESC', []);
    }

    /** The latest capture that had the page itself. */
    public function lastAlive(Viewer $viewer, Address $address): ?Capture
    {
        return $this->ofAll($viewer, $address, 'c.status >= 200 AND c.status < 300', 'DESC', []);
    }

    /**
     * The first in time, or the last, of those captures of an address and of what it is joined with.
     *
     * @param array<string, mixed> $parameters
     */
    private function ofAll(Viewer $viewer, Address $address, string $where, string $order, array $parameters): ?Capture
    {
        $found = [];
        // One after the other: each is the end of a range in the table.
        foreach ($this->joined->of($viewer, $address) as $one) {
            $capture = $this->one(
                $viewer, 'c.address = :address AND '.$where, "c.capturedAt {$order}, c.id {$order}", ['address' => $one] + $parameters,
            );
            if (null !== $capture) {
                $found[] = $capture;
            }
        }
        usort(
            $found,
            static fn (Capture $a, Capture $b): int => ('ASC' === $order ? 1 : -1)
                * ([$a->capturedAt, $a->id] <=> [$b->capturedAt, $b->id]),
        );

        return $found[0] ?? null;
    }

    /**
     * @param array<string, mixed> $parameters
     */
    private function one(Viewer $viewer, string $where, string $order, array $parameters): ?Capture
    {
        return $this->some($viewer, $where, $order, $parameters, 1)[0] ?? null;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<Capture>
     */
    private function some(Viewer $viewer, string $where, string $order, array $parameters, int $most): array
    {
        $query = $this->entities->createQuery(\sprintf(
            'SELECT c, a, f FROM %s c JOIN c.address a JOIN c.warcFile f WHERE %s ORDER BY %s', Capture::class, $where, $order,
        ));
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value, $value instanceof \DateTimeInterface ? 'moment' : null);
        }
        $found = $query->setMaxResults($most)->getResult();

        return \is_array($found) ? array_values(array_filter($found, static fn (mixed $one): bool => $one instanceof Capture)) : [];
    }

    /** @return \Closure(Capture): float how far a capture lies from that moment, in seconds */
    private static function distanceTo(\DateTimeImmutable $moment): \Closure
    {
        $at = (float) $moment->format('U.u');

        return static fn (Capture $capture): float => abs((float) $capture->capturedAt->format('U.u') - $at);
    }
}
