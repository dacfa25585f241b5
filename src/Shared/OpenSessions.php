<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Who reads in a session. `People` answers. */
interface OpenSessions
{
    /**
     * @param string $session as {@see Viewer::$session} has it
     *
     * @return Viewer|null as they are now; null if the session has ended, or the person is closed
     */
    public function viewer(string $session): ?Viewer;
}
