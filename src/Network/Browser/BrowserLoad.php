<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Ypomna\App\Shared\Settings;
use Ypomna\Core\Split;

/** What a browser takes of the machine: processes, memory, and the disk. */
final readonly class BrowserLoad
{
    /** Of all its processes together, in megabytes of memory that nobody else shares; the settings may say another one. */
    private const MEMORY = '2600';
    /** Of what it writes to its folder, in megabytes. */
    private const DISK = '500';
    private const PROCESSES = 200;

    /**
     * @param int $pid of its first process
     * @param string $folder to which it writes
     */
    public function __construct(private int $pid, private string $folder)
    {
    }

    /** @return list<int> all its processes, the first one first */
    public function processes(): array
    {
        return [$this->pid, ...self::children($this->pid)];
    }

    /**
     * What of it is more than a page may take; null if nothing is.
     *
     * @param list<int> $processes
     */
    public function excess(array $processes): ?string
    {
        $memory = 0;
        foreach ($processes as $one) {
            // Resident without what is shared with others, in pages.
            [, $resident, $shared] = [
                ...array_map(\intval(...), explode(' ', (string) @file_get_contents('/proc/'.$one.'/statm'))), 0, 0, 0, 0,
            ];
            $memory += max(0, $resident - $shared) * 4_096;
        }

        return match (true) {
            $memory > 1_000_000 * (int) Settings::text('BROWSER_MEMORY', self::MEMORY) => 'The page took more memory than a page may.',
            \count($processes) > self::PROCESSES => 'The page made more processes than a page may.',
            self::size($this->folder) > 1_000_000 * (int) Settings::text('BROWSER_DISK', self::DISK) => 'The page wrote more to the'
                .' disk than a page may.',
            default => null,
        };
    }

    private static function size(string $folder): int
    {
        $bytes = 0;
        try {
            $walk = new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS),
                \RecursiveIteratorIterator::LEAVES_ONLY,
                \RecursiveIteratorIterator::CATCH_GET_CHILD,
            );
            /** @var \SplFileInfo $file */
            foreach ($walk as $file) {
                $bytes += $file->isFile() && !$file->isLink() ? (int) @$file->getSize() : 0;
            }
        } catch (\RuntimeException) {
            // Files come and go while they are counted.
        }

        return $bytes;
    }

    /**
     * @return list<int>
     */
    private static function children(int $pid): array
    {
        $all = [];
        $files = glob('/proc/'.$pid.'/task/*/children');
        foreach (false === $files ? [] : $files as $file) {
            foreach (Split::words(trim((string) @file_get_contents($file))) as $child) {
                array_push($all, (int) $child, ...self::children((int) $child));
            }
        }

        return $all;
    }
}
