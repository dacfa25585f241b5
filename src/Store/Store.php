<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * The folder of the evidence files. A file appears in it whole or not at all: it is made under another name, synced and
 * then renamed.
 */
final readonly class Store
{
    /** Below this much room, in bytes, nothing new is begun. */
    private const LEAST_ROOM = 100_000_000;

    public function __construct(#[Autowire('%env(YPOMNA_DATA)%')] private string $dataFolder)
    {
    }

    public function path(string $relative): string
    {
        return $this->dataFolder.'/store/'.$relative;
    }

    /** Path for a file in the making; in the same file system as its final place. */
    public function incoming(string $name): string
    {
        $folder = $this->path('.incoming');
        if (!is_dir($folder) && !@mkdir($folder, 0o700, true) && !is_dir($folder)) {
            throw new \RuntimeException(\sprintf('The folder “%s” cannot be made.', $folder));
        }

        return $folder.'/'.$name;
    }

    /**
     * Puts a synced file into its final place.
     *
     * @throws \RuntimeException
     */
    public function commit(string $incoming, string $relative): void
    {
        $target = $this->path($relative);
        $folder = \dirname($target);
        if (!is_dir($folder) && !@mkdir($folder, 0o700, true) && !is_dir($folder)) {
            throw new \RuntimeException(\sprintf('The folder “%s” cannot be made.', $folder));
        }
        if (file_exists($target)) {
            throw new \RuntimeException(\sprintf('“%s” is in the store already; nothing there is ever overwritten.', $relative));
        }
        chmod($incoming, 0o400);
        if (!@rename($incoming, $target)) {
            throw new \RuntimeException(\sprintf('The file cannot be moved to “%s”.', $relative));
        }
        // The name itself has to reach the disk, too.
        $handle = @fopen($folder, 'r');
        if (false !== $handle) {
            @fsync($handle);
            fclose($handle);
        }
    }

    /**
     * All files that are in the store, whether the catalogue knows them or not.
     *
     * @return \Generator<int, string> relative paths
     */
    public function files(): \Generator
    {
        $root = $this->path('');
        if (!is_dir($root)) {
            return;
        }
        $walk = new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($root, \FilesystemIterator::SKIP_DOTS));
        /** @var \SplFileInfo $file */
        foreach ($walk as $file) {
            $relative = substr($file->getPathname(), \strlen($root));
            if ($file->isFile() && !str_starts_with($relative, '.incoming/')) {
                yield $relative;
            }
        }
    }

    /** @param int $bytes that are to come, beside what has to stay free */
    public function hasRoom(int $bytes = 0): bool
    {
        $folder = is_dir($this->path('')) ? $this->path('') : $this->dataFolder;
        $free = @disk_free_space($folder);

        return false === $free || $free > self::LEAST_ROOM + 3.0 * $bytes;
    }
}
