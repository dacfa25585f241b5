<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Liveness\Value\HeldLife;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Lifetime;

/**
 * The lives of all addresses that are held, by captures and by checks: from the first capture that has the page to where it was
 * last seen, and to where it was first found gone. Of very many addresses every so many-th is taken.
 */
final readonly class Lifetimes
{
    public const MOST = 20_000;
    private const AT_ONCE = 1_000;

    public function __construct(private Connection $database, private AddressRepository $addresses)
    {
    }

    /**
     * @return array{list<HeldLife>, int} and every how many-th address was taken
     */
    public function all(Viewer $viewer): array
    {
        $last = $this->addresses->last($viewer);
        $every = max(1, (int) ceil($last / self::MOST));
        $lives = [];
        for ($from = 1; $from * $every <= $last; $from += self::AT_ONCE) {
            $captured = $this->addresses->lives($viewer, range($from * $every, min($last, ($from + self::AT_ONCE - 1) * $every), $every));
            $checked = $this->checked(array_column($captured, 'key_hash'));
            foreach ($captured as $one) {
                $life = self::life($one, $checked[$one['key_hash']] ?? new Row([]));
                if (null !== $life) {
                    $lives[] = $life;
                }
            }
        }

        return [$lives, $every];
    }

    /**
     * How addresses stand by the checks of the spelling that was checked last.
     *
     * @param list<string> $keys hashes of their keys, hex
     *
     * @return array<string, Row> by hash
     */
    private function checked(array $keys): array
    {
        $states = [];
        $rows = [] === $keys ? [] : $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT LOWER(HEX(key_hash)) AS key_hash, verdict, since, seen_at FROM live_address
                WHERE key_hash IN (?) AND checked_at IS NOT NULL ORDER BY checked_at
                SQL,
            [array_map(hex2bin(...), $keys)],
            [ArrayParameterType::BINARY],
        );
        foreach ($rows as $values) {
            $row = new Row($values);
            $states[$row->text('key_hash')] = $row;
        }

        return $states;
    }

    /**
     * @param array{
     *     url: string, key_hash: string, first: \DateTimeImmutable|null, alive: \DateTimeImmutable|null, gone: \DateTimeImmutable|null,
     * } $captured
     */
    private static function life(array $captured, Row $checked): ?HeldLife
    {
        $first = $captured['first'];
        $host = Url::tryParse($captured['url'])?->host;
        if (null === $first || null === $host) {
            return null;
        }
        $days = static fn (?\DateTimeImmutable $at): ?float => null === $at
            ? null
            : max(0.0, ((float) $at->format('U.u') - (float) $first->format('U.u')) / 86_400);
        $alive = max($days($captured['alive']) ?? 0.0, $days($checked->momentOrNull('seen_at')) ?? 0.0);
        $gone = $days($captured['gone']);
        if ('vanished' === $checked->textOrNull('verdict')) {
            $since = $days($checked->momentOrNull('since'));
            $gone = null === $gone ? $since : min($gone, $since ?? $gone);
        } elseif ('alive' === $checked->textOrNull('verdict') || 'moved' === $checked->textOrNull('verdict')) {
            $gone = null;
        }

        return new HeldLife(
            (string) preg_replace('/^www\./', '', $host),
            (int) $first->format('Y'),
            new Lifetime($alive, null === $gone || $gone < $alive ? null : $gone),
        );
    }
}
