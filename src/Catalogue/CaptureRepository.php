<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query\ResultSetMappingBuilder;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Finds captures: by code, by address and moment, by their neighbours. */
final readonly class CaptureRepository
{
    public function __construct(
        private EntityManagerInterface $entities,
        private AddressRepository $addresses,
        private JoinedAddresses $joined,
        private Gate $gate,
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
            : $this->entities->getConnection()->fetchAllAssociative(
                'SELECT c.id, c.code FROM capture c WHERE c.id IN (?) AND '.$this->gate->sight($viewer)->of('c.limited', 'c.code'),
                [$ids],
                [ArrayParameterType::INTEGER],
            );
        foreach ($rows as $values) {
            $row = new Row($values);
            $codes[$row->int('id')] = $row->text('code');
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
            $this->ofAll($viewer, $address, 'c.captured_at <= :at', 'DESC', ['at' => $moment]),
            $this->ofAll($viewer, $address, 'c.captured_at > :at', 'ASC', ['at' => $moment]),
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
            foreach (['c.captured_at <= :at' => 'DESC', 'c.captured_at > :at' => 'ASC'] as $where => $order) {
                array_push(
                    $found,
                    ...$this->some(
                        $viewer,
                        'c.address_id = :address AND '.$alive.$where,
                        "c.captured_at {$order}, c.id {$order}",
                        ['address' => $one->id, 'at' => $moment],
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
            '(c.captured_at < :at OR (c.captured_at = :at AND c.id < :id))',
            'DESC',
            ['at' => $capture->capturedAt, 'id' => $capture->id],
        );
    }

    public function later(Viewer $viewer, Capture $capture): ?Capture
    {
        return $this->ofAll(
            $viewer,
            $capture->address,
            '(c.captured_at > :at OR (c.captured_at = :at AND c.id > :id))',
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

    /**
     * Captures of an address, without those of others that are joined with it.
     *
     * @param Capture|null $last the one that was given last
     *
     * @return list<Capture> the newest first
     */
    public function ofAddress(Viewer $viewer, Address $address, ?Capture $last, int $most): array
    {
        return $this->some(
            $viewer,
            'c.address_id = :address'.(null === $last ? '' : ' AND (c.captured_at < :at OR (c.captured_at = :at AND c.id < :id))'),
            'c.captured_at DESC, c.id DESC',
            ['address' => $address->id] + (null === $last ? [] : ['at' => $last->capturedAt, 'id' => $last->id]),
            $most,
        );
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
                $viewer, 'c.address_id = :address AND '.$where, "c.captured_at {$order}, c.id {$order}",
                ['address' => $one->id] + $parameters,
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
        $mapping = new ResultSetMappingBuilder($this->entities, ResultSetMappingBuilder::COLUMN_RENAMING_INCREMENT);
        $mapping->addRootEntityFromClassMetadata(Capture::class, 'c');
        $mapping->addJoinedEntityFromClassMetadata(Address::class, 'a', 'c', 'address');
        $mapping->addJoinedEntityFromClassMetadata(WarcFile::class, 'f', 'c', 'warcFile');
        $query = $this->entities->createNativeQuery(\sprintf(
            <<<'SQL'
                SELECT %s FROM capture c JOIN address a ON a.id = c.address_id JOIN warc_file f ON f.id = c.warc_file_id
                WHERE %s AND %s ORDER BY %s LIMIT %d
                SQL,
            $mapping->generateSelectClause(), $where, $this->gate->sight($viewer)->of('c.limited', 'c.code'), $order, $most,
        ), $mapping);
        foreach ($parameters as $name => $value) {
            $query->setParameter(
                $name,
                $value instanceof \DateTimeImmutable ? MomentType::text($value) : $value,
                \is_array($value) ? ArrayParameterType::INTEGER : null,
            );
        }
        $found = $query->getResult();

        return \is_array($found) ? array_values(array_filter($found, static fn (mixed $one): bool => $one instanceof Capture)) : [];
    }

    /** @return \Closure(Capture): float how far a capture lies from that moment, in seconds */
    private static function distanceTo(\DateTimeImmutable $moment): \Closure
    {
        $at = (float) $moment->format('U.u');

        return static fn (Capture $capture): float => abs((float) $capture->capturedAt->format('U.u') - $at);
    }
}
