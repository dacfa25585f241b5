<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\Core\Address\Url;

/** One page that is to be captured now. */
final readonly class PageTask
{
    /**
     * @param Actor $operator who captures it: the file says so
     * @param string $folder an empty folder of this capture's own; whoever gave it removes it
     * @param string $target path of the WARC file; it is made, synced, and complete in the end, if anything was answered
     * @param string $fileName by which the file calls itself
     */
    public function __construct(
        public Actor $operator,
        public Url $url,
        public string $folder,
        public string $target,
        public string $fileName,
        public CaptureOptions $options,
    ) {
    }
}
