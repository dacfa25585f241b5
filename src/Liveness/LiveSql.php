<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Ypomna\App\Liveness\Value\LiveState;

/**
 * Pieces of SQL by which the tables of other rooms are joined with how their addresses stand. Lists are ordered and narrowed by
 * both, so the database has to join them; what the table is called and how a state is told stays here.
 */
final class LiveSql
{
    /** For {@see LiveState::ofJoined()}. */
    public const FIELDS = 'la.id AS live_id, la.url AS live_url, la.checks AS live_checks, la.reason AS live_reason, la.is_final AS'
        .' live_is_final,'
        .' la.agreeing AS live_agreeing, la.confidence AS live_confidence, la.since AS live_since, la.seen_at AS live_seen_at,'
        .' la.checked_at AS live_checked_at,'
        .' la.next_at AS live_next_at, la.wanted_at AS live_wanted_at';
    /** What a screen calls the state, see {@see LiveState::word()}. */
    public const WORD = "CASE WHEN la.verdict IS NULL THEN 'unknown' WHEN la.verdict = 'vanished' AND la.is_final = 0 THEN 'not-seen'"
        .' ELSE la.verdict END';
    /** Whether the address waits to be checked. */
    public const IS_QUEUED = '(la.wanted_at IS NOT NULL)';
    public const URL = 'la.url';
    public const CHECKED_AT = 'la.checked_at';
    public const KEY_HASH = 'la.key_hash';
    /** Whether the page is there now, at this address or another. */
    public const IS_THERE = "(la.verdict IN ('alive', 'moved', 'changed'))";

    /** @param string $id the column that has the number of the address */
    public static function join(string $id): string
    {
        return ' JOIN live_address la ON la.id = '.$id;
    }

    /** @return string|null a condition for a word of {@see WORD}; null if it is none */
    public static function is(string $word): ?string
    {
        return match ($word) {
            'vanished' => "la.verdict = 'vanished' AND la.is_final = 1",
            'not-seen' => "la.verdict = 'vanished' AND la.is_final = 0",
            'unknown' => 'la.verdict IS NULL',
            'alive', 'moved', 'changed', 'blocked', 'unreachable' => "la.verdict = '".$word."'",
            default => null,
        };
    }
}
