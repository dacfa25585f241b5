<?php

declare(strict_types=1);

namespace Ypomna\App\People;

/** What stands in the log of people. */
enum LoggedAct: string
{
    case SignedIn = 'signed-in';
    case SignedOut = 'signed-out';
    case Refused = 'refused';
    case CodeRefused = 'code-refused';
    case Throttled = 'throttled';
    case PersonAdded = 'person-added';
    case RoleChanged = 'role-changed';
    case PersonClosed = 'person-closed';
    case PersonOpened = 'person-opened';
    case Invited = 'invited';
    case LinkUsed = 'link-used';
    case ResetAsked = 'reset-asked';
    case PasswordChanged = 'password-changed';
    case SecondStepOn = 'second-step-on';
    case SecondStepOff = 'second-step-off';
    case RecoveryUsed = 'recovery-used';
    case SessionEnded = 'session-ended';
    case TokenAdded = 'token-added';
    case TokenEnded = 'token-ended';
    case ProgramActed = 'program-acted';
    case SettingChanged = 'setting-changed';
}
