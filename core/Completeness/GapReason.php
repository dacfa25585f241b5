<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;

/** Why something that a page asked for was not kept. */
enum GapReason: string
{
    /** The server itself had it not: 4xx or 5xx. Whoever read the live page missed it, too. */
    case Status = 'status';
    case Unreachable = 'unreachable';
    case Timeout = 'timeout';
    case Truncated = 'truncated';
    case TooLarge = 'too-large';
    /** An address that may not be reached. */
    case Refused = 'refused';
    case Tls = 'tls';
    case Robots = 'robots';
    /** A stream, a socket, a plug-in. */
    case NotRecordable = 'not-recordable';
    /** Referred to, and never asked for. */
    case NotRequested = 'not-requested';

    /** @return self|null null if nothing is missing */
    public static function of(Exchange $exchange): ?self
    {
        $failed = match ($exchange->failure) {
            null => null,
            FailureReason::NoHost, FailureReason::Dns, FailureReason::Refused => self::Unreachable,
            FailureReason::Timeout => self::Timeout,
            FailureReason::Guarded => self::Refused,
            FailureReason::Tls => self::Tls,
            FailureReason::NotRecordable => self::NotRecordable,
            FailureReason::Robots => self::Robots,
            FailureReason::Limit => 'time' === $exchange->truncated ? self::Timeout : self::TooLarge,
            FailureReason::BadResponse => $exchange->isAnswered() ? self::Truncated : self::Unreachable,
            FailureReason::Cancelled => self::Truncated,
        };

        return match (true) {
            null !== $failed => $failed,
            null !== $exchange->truncated => match ($exchange->truncated) {
                'time' => self::Timeout, 'length' => self::TooLarge, default => self::Truncated,
            },
            !$exchange->isAnswered() => self::Unreachable,
            $exchange->status >= 400 => self::Status,
            default => null,
        };
    }
}
