<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** Known ways in which a page is not what a reader came for, or cannot be kept as a whole. */
enum Trouble: string
{
    case Login = 'login';
    /** A layer that asks for consent lies over the text. */
    case Consent = 'consent';
    /** The server wants proof that a person asks. */
    case Challenge = 'challenge';
    /** Says that there is no such page, with a status that says there is. */
    case Soft404 = 'soft-404';
    /** A frame for content that never came. */
    case EmptyShell = 'empty-shell';
    /** Longer with every look at its end. */
    case EndlessScroll = 'endless-scroll';
    case RedirectLoop = 'redirect-loop';
    case Plugin = 'plugin';
    case ErrorStatus = 'error-status';
    /** A limit of the capture was reached. */
    case CutOff = 'cut-off';

    public function verdict(): Verdict
    {
        return match ($this) {
            self::Login, self::Challenge, self::Soft404, self::EmptyShell, self::ErrorStatus, self::RedirectLoop => Verdict::Failed,
            self::Consent, self::EndlessScroll, self::CutOff => Verdict::Gaps,
            self::Plugin => Verdict::Whole,
        };
    }
}
