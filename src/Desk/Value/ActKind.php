<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What somebody did with an item or a dossier. */
enum ActKind: string
{
    case Made = 'made';
    case Title = 'title';
    case Summary = 'summary';
    case Note = 'note';
    case Tagged = 'tagged';
    case Untagged = 'untagged';
    case Fields = 'fields';
    case Due = 'due';
    case NoDue = 'no-due';
    case Important = 'important';
    case NotImportant = 'not-important';
    case Confidential = 'confidential';
    case NotConfidential = 'not-confidential';
    case Settled = 'settled';
    case Unsettled = 'unsettled';
    case Under = 'under';
    case Laid = 'laid';
    case TakenOut = 'taken-out';
    case Ordered = 'ordered';
    case Linked = 'linked';
    case Unlinked = 'unlinked';
    case Attached = 'attached';
    case Detached = 'detached';
    case Undone = 'undone';
    case Deleted = 'deleted';
    case Restored = 'restored';
    /** Of dossiers. */
    case Renamed = 'renamed';
    case Closed = 'opened-private';
    case Shared = 'opened-shared';
    case Opened = 'opened-all';
    case Reader = 'person-reader';
    case Writer = 'person-writer';
    case Lead = 'person-lead';
    case NoPerson = 'no-person';
    case Moved = 'moved';
    case Copied = 'copied';
    case OwnFields = 'own-fields';
}
