<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

use Ypomna\App\Shared\DataFolder;
use Ypomna\Core\FilePieces;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\Repack;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcReader;

/**
 * The folder of the evidence files. A file appears in it whole or not at all: it is made under another name, synced and
 * then renamed.
 */
final readonly class Store
{
    /** Below this much room, in bytes, nothing new is begun. */
    private const LEAST_ROOM = 100_000_000;

    public function __construct(private DataFolder $folder)
    {
    }

    /** Where a file lies on this machine: for what cannot be read in any other way than by its path. */
    public function local(string $relative): string
    {
        return $this->folder->store().'/'.$relative;
    }

    public function has(string $relative): bool
    {
        return is_file($this->local($relative));
    }

    /** In bytes; 0 if it is not there. */
    public function size(string $relative): int
    {
        return (int) @filesize($this->local($relative));
    }

    /** SHA-256 of a file, hex; '' if it cannot be read. */
    public function digest(string $relative): string
    {
        return (string) @hash_file('sha256', $this->local($relative));
    }

    /**
     * The record at an offset of a WARC file.
     *
     * @throws WarcError if the file is damaged or gone
     */
    public function record(string $relative, int $offset): Record
    {
        return WarcReader::at($this->local($relative), $offset);
    }

    /**
     * Reads the records of a WARC file one after the other.
     *
     * @param int $from where reading begins: 0, or the offset of a record
     *
     * @throws WarcError if the file cannot be opened
     */
    public function reader(string $relative, int $from = 0): WarcReader
    {
        return WarcReader::open($this->local($relative), $from);
    }

    /** Whether a sound record stands there in a gzip member of its own. */
    public function isSound(string $relative, int $offset): bool
    {
        return null !== WarcReader::soundMember($this->local($relative), $offset);
    }

    /**
     * A record as a gzip member of its own.
     *
     * @return \Generator<int, string>
     *
     * @throws WarcError
     */
    public function repacked(string $relative, int $offset): \Generator
    {
        return Repack::record($this->local($relative), $offset);
    }

    /**
     * A file as it stands.
     *
     * @return \Generator<int, string>
     */
    public function pieces(string $relative): \Generator
    {
        return FilePieces::ofFile($this->local($relative));
    }

    /** Path for a file in the making; in the same file system as its final place. */
    public function incoming(string $name): string
    {
        $folder = $this->local('.incoming');
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
        $target = $this->local($relative);
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
        $root = $this->local('');
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
        $folder = is_dir($this->local('')) ? $this->local('') : $this->folder->path;
        $free = @disk_free_space($folder);

        return false === $free || $free > self::LEAST_ROOM + 3.0 * $bytes;
    }
}
