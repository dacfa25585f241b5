<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Ypomna\Core\Fetch\SiteFile;

/** A file in the making, in which a worker puts the pages of a site. */
final class Segment
{
    /**
     * @param resource $handle locked as long as it is held
     */
    public function __construct(
        public readonly int $id,
        public readonly string $incoming,
        private $handle,
        public readonly SiteFile $file,
        public readonly float $begun,
        public int $pages,
    ) {
    }

    /** Brings what was added to the disk. */
    public function sync(): void
    {
        if (!fflush($this->handle) || !fsync($this->handle)) {
            throw new \RuntimeException('The file could not be written to the disk for good.');
        }
    }

    /** Cuts off what lies behind that point, and goes on from there. */
    public function backTo(int $bytes): void
    {
        fflush($this->handle);
        ftruncate($this->handle, max(0, $bytes));
        fseek($this->handle, 0, \SEEK_END);
        $this->file->backTo($bytes);
    }

    public function close(): void
    {
        fclose($this->handle);
    }
}
