<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** Why the verdict is what it is. */
enum LiveReason: string
{
    case Ok = 'ok';
    case Redirect = 'redirect';
    case Content = 'content';
    case NotFound = 'not-found';
    case Gone = 'gone';
    case NoHost = 'no-host';
    case Soft404 = 'soft-404';
    case Parked = 'parked';
    case HomeRedirect = 'home-redirect';
    case Consent = 'consent';
    case Login = 'login';
    case Forbidden = 'forbidden';
    case Legal = 'legal';
    case Challenge = 'challenge';
    case RateLimit = 'rate-limit';
    case Dns = 'dns';
    case Timeout = 'timeout';
    case Refused = 'refused';
    case Tls = 'tls';
    case ServerError = 'server-error';
    case RedirectLoop = 'redirect-loop';
    case BadResponse = 'bad-response';

    public function verdict(): LiveVerdict
    {
        return match ($this) {
            self::Ok => LiveVerdict::Alive,
            self::Redirect => LiveVerdict::Moved,
            self::Content => LiveVerdict::Changed,
            self::NotFound, self::Gone, self::NoHost, self::Soft404, self::Parked, self::HomeRedirect => LiveVerdict::Vanished,
            self::Consent, self::Login, self::Forbidden, self::Legal, self::Challenge, self::RateLimit => LiveVerdict::Blocked,
            default => LiveVerdict::Unreachable,
        };
    }
}
