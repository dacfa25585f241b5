<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

/** Why there is no page of a site to be taken now. */
enum Pause: string
{
    /** It is paused or called off. */
    case Stopped = 'stopped';
    /** All that is left is with other workers. */
    case Others = 'others';
    /** Hosts have to be left alone for a while. */
    case Pause = 'pause';
    case Complete = 'complete';
    case Pages = 'pages';
    case Bytes = 'bytes';
    case Time = 'time';
}
