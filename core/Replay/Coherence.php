<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

/**
 * Whether a part that was kept at another moment than its page stood in the page at that page's moment. The reasoning is
 * that of Ainsworth, Nelson and Van de Sompel, “Only One Out of Five Archived Web Pages Existed as Presented” (2015):
 * captures on both sides and Last-Modified decide; where they do not, nothing is claimed.
 */
enum Coherence: string
{
    /** It was certainly there, byte for byte. */
    case Same = 'same';
    /** Certainly something else stood there, or nothing. */
    case Different = 'different';
    case Unknown = 'unknown';

    /**
     * @param \DateTimeImmutable $moment when the page was captured
     * @param PartSeen $shown what stands in for the part
     * @param PartSeen|null $before the last capture of the part up to that moment, whatever was answered
     * @param PartSeen|null $after the first one behind it
     */
    public static function of(\DateTimeImmutable $moment, PartSeen $shown, ?PartSeen $before, ?PartSeen $after): self
    {
        if (null !== $before && null !== $after && $before->equals($after)) {
            return $shown->equals($before) ? self::Same : self::Different;
        }
        $modified = $shown->lastModified();
        if ($shown->at > $moment) {
            // A time-stamp from behind its own capture says nothing.
            return match (true) {
                null === $modified || $modified > $shown->at => self::Unknown,
                $modified <= $moment => self::Same,
                default => self::Different,
            };
        }
        $next = null === $after || $shown->equals($after) ? null : $after->lastModified();

        // The version that was found later stood there already.
        return null !== $next && $next <= $moment && $next > $shown->at ? self::Different : self::Unknown;
    }
}
