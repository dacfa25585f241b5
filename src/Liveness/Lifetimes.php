<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Liveness\Value\HeldLife;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Lifetime;

/**
 * The lives of all addresses that are held, by captures and by looks: from the first capture that has the page to where it was
 * last seen, and to where it was first found gone. Of very many addresses every so many-th is taken.
 */
final readonly class Lifetimes
{
    public const MOST = 20_000;
    private const AT_ONCE = 1_000;

    public function __construct(private Connection $database)
    {
    }

    /**
     * @return array{list<HeldLife>, int} and every how many-th address was taken
     */
    public function all(): array
    {
        $extent = Row::of($this->database->fetchAssociative('SELECT COALESCE(MAX(id), 0) AS last FROM address'));
        $last = $extent->int('last');
        $every = max(1, (int) ceil($last / self::MOST));
        $lives = [];
        for ($from = 1; $from * $every <= $last; $from += self::AT_ONCE) {
            $rows = $this->database->fetchAllAssociative(
                'SELECT a.id, a.url, (SELECT MIN(c.captured_at) FROM capture c WHERE c.address_id = a.id AND c.status BETWEEN 200 AND 299) AS first_at, a.last_alive_at,'
                .' (SELECT MIN(c.captured_at) FROM capture c WHERE c.address_id = a.id AND c.captured_at > a.last_alive_at AND c.status IN (404, 410)) AS gone_at,'
                .' l.reason, l.verdict, l.since, l.seen_at, l.looked_at'
                .' FROM address a LEFT JOIN live_address l ON l.id = (SELECT n.id FROM live_address n WHERE n.key_hash = UNHEX(LEFT(SHA2(a.url_key, 256), 32)) AND n.looked_at IS NOT NULL ORDER BY n.looked_at DESC LIMIT 1)'
                .' WHERE a.id IN (?) AND a.last_alive_at IS NOT NULL',
                [range($from * $every, min($last, ($from + self::AT_ONCE - 1) * $every), $every)],
                [ArrayParameterType::INTEGER],
            );
            foreach ($rows as $values) {
                $row = new Row($values);
                $life = self::life($row);
                if (null !== $life) {
                    $lives[] = $life;
                }
            }
        }

        return [$lives, $every];
    }

    private static function life(Row $row): ?HeldLife
    {
        $first = $row->momentOrNull('first_at');
        $host = Url::tryParse($row->text('url'))?->host;
        if (null === $first || null === $host) {
            return null;
        }
        $days = static fn (?\DateTimeImmutable $at): ?float => null === $at ? null : max(0.0, ((float) $at->format('U.u') - (float) $first->format('U.u')) / 86_400);
        $alive = max($days($row->momentOrNull('last_alive_at')) ?? 0.0, $days($row->momentOrNull('seen_at')) ?? 0.0);
        $gone = $days($row->momentOrNull('gone_at'));
        if ('vanished' === $row->textOrNull('verdict')) {
            $since = $days($row->momentOrNull('since'));
            $gone = null === $gone ? $since : min($gone, $since ?? $gone);
        } elseif ('alive' === $row->textOrNull('verdict') || 'moved' === $row->textOrNull('verdict')) {
            $gone = null;
        }

        return new HeldLife((string) preg_replace('/^www\./', '', $host), (int) $first->format('Y'), new Lifetime($alive, null === $gone || $gone < $alive ? null : $gone));
    }
}
