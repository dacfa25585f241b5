<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

/** Whether an address belongs to a site that is to be kept, or why it does not. */
enum Ruling: string
{
    case Taken = 'taken';
    case NotWeb = 'not-web';
    case OtherHost = 'other-host';
    case OtherFolder = 'other-folder';
    case TooDeep = 'too-deep';
    case NotIncluded = 'not-included';
    case Excluded = 'excluded';
    /** Its path goes round in a circle, or has no end. */
    case EndlessPath = 'endless-path';
    /** Its pages bring nothing that the others of their kind have not: calendars, sessions, orders of a list. */
    case NothingNew = 'nothing-new';
    case Robots = 'robots';
}
