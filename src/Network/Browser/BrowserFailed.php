<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

/** The browser could not be started, crashed, or did not answer; costs this capture only. */
final class BrowserFailed extends \RuntimeException
{
}
