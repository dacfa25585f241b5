<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Liveness\Value\CheckLine;
use Ypomna\App\Liveness\Value\LiveState;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\Conclusion;
use Ypomna\Core\Liveness\Conclusions;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\PastCheck;

/** Each check of an address, kept; and what they amount to. */
final readonly class CheckRepository
{
    /** Checks from which a conclusion is drawn, and that are shown. */
    private const MOST = 200;
    private const FIELDS = 'id, url, checks, reason, is_final, agreeing, confidence, since, seen_at, checked_at, next_at, wanted_at';

    public function __construct(private Connection $database, private ClockInterface $clock, private AddressRepository $addresses)
    {
    }

    /** Enters a check, draws the conclusion anew and lets the address go. */
    public function enter(int $id, CheckResult $result, Assessment $judged, ?Capture $against): Conclusion
    {
        $at = $this->clock->now();

        return TransactionRetry::transaction($this->database, function () use ($id, $result, $judged, $against, $at): Conclusion {
            $seen = Row::of($this->database->fetchAssociative('SELECT seen_at FROM live_address WHERE id = ? FOR UPDATE', [$id]))
                ->momentOrNull('seen_at');
            $this->database->executeStatement(<<<'SQL'
                INSERT INTO live_check (live_id, at, reason, status, final_url, hops, evidence, confidence, against)
                VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
                SQL, [
                $id, MomentType::text($at), $judged->reason->value, $result->status, (string) $result->final,
                self::json(\array_slice($result->hops, 0, 40)),
                self::json(array_map(
                    static fn (string $said): string => mb_strimwidth(mb_scrub($said), 0, 1_000, '…'), $judged->evidence,
                )),
                $judged->confidence, $against?->code,
            ]);
            $held = null === $against ? $seen : max($seen ?? $against->capturedAt, $against->capturedAt);
            $conclusion = Conclusions::of($this->past($id), $held);
            if (null === $conclusion) {
                throw new \LogicException('A check that was entered is not there.');
            }
            $this->database->executeStatement(<<<'SQL'
                UPDATE live_address
                SET checks = checks + 1, verdict = ?, reason = ?, is_final = ?, agreeing = ?, confidence = ?, since = ?,
                    seen_at = ?, checked_at = ?, next_at = ?, wanted_at = NULL, not_before = NULL, claimed_by = NULL,
                    claimed_until = NULL
                WHERE id = ?
                SQL, [
                $conclusion->verdict->value, $conclusion->reason->value, $conclusion->isFinal ? 1 : 0,
                min(255, $conclusion->counted), $conclusion->confidence,
                MomentType::text($conclusion->since),
                null === $conclusion->lastSeen ? null : MomentType::text($conclusion->lastSeen),
                MomentType::text($at), MomentType::text($conclusion->nextCheck), $id,
            ]);

            return $conclusion;
        });
    }

    /**
     * How the spellings of an address stand, the one checked last before the others.
     *
     * @return list<LiveState>
     */
    public function states(Viewer $viewer, string $url): array
    {
        return array_map(
            LiveState::of(...),
            $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.' FROM live_address WHERE key_hash = ? AND limited <= ? ORDER BY checked_at DESC, id LIMIT 20',
                [hex2bin(AddressKeys::keyHash($url)), $this->most($viewer, $url)],
            ),
        );
    }

    /**
     * How addresses stand, whoever may be told: of each what was found out last, in any spelling.
     *
     * @param list<string> $urls
     *
     * @return array<string, LiveState> by address; of those that were checked
     */
    public function latest(array $urls): array
    {
        $hashes = $latest = [];
        foreach ($urls as $url) {
            $hashes[$url] = hex2bin(AddressKeys::keyHash($url));
        }
        $states = [];
        foreach ([] === $hashes ? [] : $this->database->fetchAllAssociative(
            'SELECT key_hash, '.self::FIELDS.' FROM live_address WHERE key_hash IN (?) ORDER BY checked_at, id DESC',
            [array_values($hashes)], [ArrayParameterType::BINARY],
        ) as $values) {
            $states[(new Row($values))->text('key_hash')] = LiveState::of($values);
        }
        foreach ($hashes as $url => $hash) {
            if (isset($states[$hash])) {
                $latest[$url] = $states[$hash];
            }
        }

        return $latest;
    }

    /** Of an address that is held for some only, how it stands is told to those. */
    private function most(Viewer $viewer, string $url): int
    {
        return null === $this->addresses->of($viewer, $url) ? 0 : 1;
    }

    /**
     * The checks of an address in any spelling.
     *
     * @return list<CheckLine> newest first
     */
    public function history(Viewer $viewer, string $url): array
    {
        return array_map(
            CheckLine::of(...),
            $this->database->fetchAllAssociative(
                'SELECT a.url, l.at, l.reason, l.status, l.final_url, l.hops, l.evidence, l.confidence, l.against FROM live_address a'
                    .' JOIN live_check l ON l.live_id = a.id WHERE a.key_hash = ? AND a.limited <= ? ORDER BY l.at DESC, l.id DESC LIMIT '
                    .self::MOST,
                [hex2bin(AddressKeys::keyHash($url)), $this->most($viewer, $url)],
            ),
        );
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, CheckLine> the last check of each
     */
    public function last(array $ids): array
    {
        $rows = [] === $ids
            ? []
            : $this->database->fetchAllAssociative(
                <<<'SQL'
                    SELECT a.id AS live_id, a.url, l.at, l.reason, l.status, l.final_url, l.hops, l.evidence, l.confidence,
                        l.against
                    FROM live_address a
                    JOIN live_check l ON l.live_id = a.id AND l.id = (
                        SELECT n.id
                        FROM live_check n
                        WHERE n.live_id = a.id
                        ORDER BY n.at DESC, n.id DESC
                        LIMIT 1
                    )
                    WHERE a.id IN (?)
                    SQL,
                [$ids],
                [ArrayParameterType::INTEGER],
            );
        $last = [];
        foreach ($rows as $values) {
            $last[(new Row($values))->int('live_id')] = CheckLine::of($values);
        }

        return $last;
    }

    /**
     * Hosts that were seen alive lately.
     *
     * @return list<string>
     */
    public function aliveHosts(int $most): array
    {
        $hosts = [];
        foreach ($this->database->fetchFirstColumn(
            "SELECT host FROM live_address WHERE verdict = 'alive' AND checked_at > ? ORDER BY checked_at DESC LIMIT 100",
            [MomentType::text($this->clock->now()->modify('-60 days'))],
        ) as $host) {
            $hosts[\is_string($host) ? $host : ''] = true;
        }

        return \array_slice(array_map(strval(...), array_keys($hosts)), 0, $most);
    }

    /**
     * @return list<PastCheck> oldest first
     */
    private function past(int $id): array
    {
        return array_reverse(array_map(static function (array $values): PastCheck {
            $row = new Row($values);

            return new PastCheck(
                $row->moment('at'),
                LiveReason::tryFrom($row->text('reason')) ?? LiveReason::BadResponse,
                $row->floatOrNull('confidence') ?? 0.0,
            );
        }, $this->database->fetchAllAssociative(
            'SELECT at, reason, confidence FROM live_check WHERE live_id = ? ORDER BY at DESC, id DESC LIMIT '.self::MOST, [$id],
        )));
    }

    /** @param list<mixed> $value */
    private static function json(array $value): string
    {
        return json_encode(
            $value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }
}
