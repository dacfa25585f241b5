<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Liveness\Message\CheckQueuedAddresses;
use Ypomna\App\Liveness\Value\TakenCheck;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/**
 * Addresses that somebody wants checked. It stands in the database, for all lists and watches together: an address that two
 * of them want is asked once, and what a killed worker had taken is taken again, while what it had finished stays finished.
 */
final readonly class CheckQueue
{
    private const NOW = 'UTC_TIMESTAMP(6)';
    /** How long a worker may have an address before others think it dead, in seconds. */
    private const LEASE = 180;
    private const AT_ONCE = 400;

    public function __construct(
        private Connection $database,
        private MessageBusInterface $bus,
        private AddressRepository $addresses,
        #[Autowire('%env(int:YPOMNA_WORKERS)%')] private int $workers,
    ) {
    }

    /**
     * Makes addresses known here. What somebody wants to know of an address that is held for some only is told to those alone; once
     * somebody asks who does not know that, it is told to everybody.
     *
     * @param Viewer $viewer who asks
     * @param list<Url> $urls of the web
     *
     * @return array<string, int> their numbers, by address without its fragment
     */
    public function ids(Viewer $viewer, array $urls): array
    {
        $hashes = [];
        foreach ($urls as $url) {
            $text = (string) $url->withoutUserinfo()->withoutFragment();
            $hashes[$text] = hex2bin(AddressKeys::urlHash($text));
        }
        $ids = [];
        foreach (array_chunk($hashes, self::AT_ONCE, true) as $some) {
            $values = [];
            $confidential = $this->addresses->confidential($viewer, array_map(\strval(...), array_keys($some)));
            foreach ($some as $text => $hash) {
                array_push(
                    $values, $hash, hex2bin(AddressKeys::keyHash($text)), $text, substr((string) Url::parse($text)->host, 0, 255),
                    isset($confidential[$text]) ? 1 : 0,
                );
            }
            TransactionRetry::transaction(
                $this->database,
                fn () => $this->database->executeStatement(
                    'INSERT INTO live_address (url_hash, key_hash, url, host, limited) VALUES '
                        .implode(', ', array_fill(0, \count($some), '(?, ?, ?, ?, ?)'))
                        .' ON DUPLICATE KEY UPDATE limited = LEAST(limited, VALUES(limited))',
                    $values,
                ),
            );
            $byHash = [];
            foreach ($this->database->fetchAllAssociative(
                'SELECT id, url_hash FROM live_address WHERE url_hash IN (?)', [array_values($some)], [ArrayParameterType::BINARY],
            ) as $row) {
                $byHash[\is_string($row['url_hash']) ? $row['url_hash'] : ''] = (new Row($row))->int('id');
            }
            foreach ($some as $text => $hash) {
                $ids[$text] = $byHash[(string) $hash] ?? throw new \LogicException('An address that was made known is not there.');
            }
        }

        return $ids;
    }

    /**
     * They are checked as soon as workers and hosts are free.
     *
     * @param list<int> $ids
     */
    public function want(array $ids): void
    {
        foreach (array_chunk($ids, self::AT_ONCE) as $some) {
            TransactionRetry::transaction(
                $this->database,
                fn () => $this->database->executeStatement(
                    'UPDATE live_address SET wanted_at = '.self::NOW
                        .', not_before = NULL, tries = 0 WHERE id IN (?) AND wanted_at IS NULL ORDER BY id',
                    [$some],
                    [ArrayParameterType::INTEGER],
                ),
            );
        }
        if ([] !== $ids) {
            $this->call();
        }
    }

    /**
     * What has not begun is not begun any more.
     *
     * @param list<int> $ids
     */
    public function unwant(array $ids): void
    {
        foreach (array_chunk($ids, self::AT_ONCE) as $some) {
            $this->database->executeStatement(
                'UPDATE live_address SET wanted_at = NULL WHERE id IN (?) AND claimed_by IS NULL', [$some], [ArrayParameterType::INTEGER],
            );
        }
    }

    /** Calls workers; one that finds nothing to do is done. */
    public function call(int $delay = 0, ?int $workers = null): void
    {
        for ($n = 0; $n < ($workers ?? $this->most()); ++$n) {
            $this->bus->dispatch(new CheckQueuedAddresses(), 0 === $delay ? [] : [new DelayStamp($delay)]);
        }
    }

    /**
     * Takes an address whose host has room.
     *
     * @param string $worker its own name, `machine:process`
     */
    public function take(string $worker): ?TakenCheck
    {
        return TransactionRetry::transaction($this->database, function () use ($worker): ?TakenCheck {
            $full = $this->database->fetchFirstColumn(
                'SELECT host FROM live_address WHERE claimed_by IS NOT NULL GROUP BY host HAVING COUNT(*) >= '.HostSlots::MOST
                    .' LIMIT 1000',
            );
            $row = $this->database->fetchAssociative(
                'SELECT id, url, tries FROM live_address WHERE wanted_at IS NOT NULL AND claimed_by IS NULL AND (not_before IS NULL OR'
                    .' not_before <= '
                    .self::NOW.') AND host NOT IN (?) ORDER BY wanted_at, id LIMIT 1 FOR UPDATE SKIP LOCKED',
                [['-', ...$full]],
                [ArrayParameterType::STRING],
            );
            if (false === $row) {
                return null;
            }
            $row = new Row($row);
            $this->database->executeStatement(
                'UPDATE live_address SET claimed_by = ?, claimed_until = '.self::NOW.' + INTERVAL '.self::LEASE.' SECOND WHERE id = ?',
                [$worker, $row->int('id')],
            );

            return new TakenCheck($row->int('id'), Url::parse($row->text('url')), $row->int('tries'));
        });
    }

    /** A server asked for patience: this address comes again later, and others of its host wait as well. */
    public function later(TakenCheck $taken, int $seconds): void
    {
        TransactionRetry::transaction($this->database, function () use ($taken, $seconds): void {
            $this->database->executeStatement('UPDATE live_address SET claimed_by = NULL, tries = tries + 1 WHERE id = ?', [$taken->id]);
            $this->database->executeStatement(
                'UPDATE live_address SET not_before = '.self::NOW
                    .' + INTERVAL ? SECOND WHERE host = ? AND wanted_at IS NOT NULL AND claimed_by IS NULL',
                [$seconds, substr((string) $taken->url->host, 0, 255)],
            );
        });
    }

    /** Whether something waits that nobody has taken, and in how many milliseconds the first of it may be taken. */
    public function waits(): ?int
    {
        $row = $this->database->fetchAssociative(
            'SELECT MIN(GREATEST(0, TIMESTAMPDIFF(MICROSECOND, '.self::NOW
                .', COALESCE(not_before, wanted_at)))) AS microseconds FROM live_address WHERE wanted_at IS NOT NULL AND claimed_by IS'
                    .' NULL',
        );
        $microseconds = Row::of($row)->intOrNull('microseconds');

        return null === $microseconds ? null : intdiv($microseconds, 1_000);
    }

    /** Frees what dead workers had taken. */
    public function reclaim(): void
    {
        $this->database->executeStatement(
            'UPDATE live_address SET claimed_by = NULL WHERE claimed_by IS NOT NULL AND claimed_until < '.self::NOW,
        );
        $machine = gethostname().':';
        foreach ($this->database->fetchFirstColumn(
            'SELECT DISTINCT claimed_by FROM live_address WHERE claimed_by LIKE ?', [addcslashes($machine, '%_\\').'%'],
        ) as $worker) {
            $worker = \is_string($worker) ? $worker : '';
            $process = (int) substr($worker, \strlen($machine));
            if ($process !== getmypid() && !is_dir('/proc/'.$process)) {
                $this->database->executeStatement('UPDATE live_address SET claimed_by = NULL WHERE claimed_by = ?', [$worker]);
            }
        }
    }

    /** Gives back what this worker has not finished. */
    public function release(string $worker): void
    {
        $this->database->executeStatement('UPDATE live_address SET claimed_by = NULL WHERE claimed_by = ?', [$worker]);
    }

    /** Whether as many others look at addresses as may at once. */
    public function isServed(string $worker): bool
    {
        $others = $this->database->fetchOne(
            'SELECT COUNT(DISTINCT claimed_by) FROM live_address WHERE claimed_by IS NOT NULL AND claimed_by <> ?', [$worker],
        );

        return is_numeric($others) && (int) $others >= $this->most();
    }

    /** Workers that check addresses at once: where there are several, one stays free for what people wait for. */
    private function most(): int
    {
        return max(1, $this->workers - 1);
    }
}
