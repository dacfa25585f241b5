<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\Core\Warc\RollingFile;

/**
 * The folder of a parcel while it is put together, and the manifest of what lies in it: a line a file, as
 * `sha256sum -c` reads them.
 */
final class ParcelFolder
{
    public const MANIFEST = 'manifest-sha256.txt';

    /** @var list<array{name: string, bytes: int, sha256: string}> */
    private array $files = [];

    /**
     * @param (\Closure(): void)|null $room asked every now and then; throws where the disk has no room for more
     *
     * @throws ExportFailed if the folder is not empty or cannot be made
     */
    public function __construct(public readonly string $path, private readonly ?\Closure $room = null)
    {
        if (!is_dir($path) && !@mkdir($path, 0o700, true)) {
            throw new ExportFailed('exchange.folder_cannot_be_made', ['path' => $path]);
        }
        if ([] !== array_diff((array) scandir($path), ['.', '..'])) {
            throw new ExportFailed('exchange.folder_is_not_empty', ['path' => $path]);
        }
    }

    /**
     * Writes a file of that name.
     *
     * @param iterable<string> $pieces
     */
    public function write(string $name, iterable $pieces): void
    {
        $path = $this->path.'/'.$name;
        if (!is_dir(\dirname($path)) && !@mkdir(\dirname($path), 0o700, true)) {
            throw new ExportFailed('exchange.folder_cannot_be_made', ['path' => \dirname($path)]);
        }
        $out = @fopen($path, 'x');
        if (false === $out) {
            throw new ExportFailed('exchange.file_cannot_be_made', ['path' => $path]);
        }
        $digest = hash_init('sha256');
        $bytes = $asked = 0;
        $this->room?->__invoke();
        foreach ($pieces as $piece) {
            if ($bytes - $asked > RollingFile::ROOM_BYTES) {
                $asked = $bytes;
                $this->room?->__invoke();
            }
            if (\strlen($piece) !== @fwrite($out, $piece)) {
                throw new ExportFailed('exchange.disk_took_no_more');
            }
            hash_update($digest, $piece);
            $bytes += \strlen($piece);
        }
        if (!fflush($out) || !fsync($out)) {
            throw new ExportFailed('exchange.disk_took_no_more');
        }
        fclose($out);
        $this->files[] = ['name' => $name, 'bytes' => $bytes, 'sha256' => hash_final($digest)];
    }

    /**
     * @param list<array{name: string, bytes: int, sha256: string}> $files that lie in the folder already
     */
    public function has(array $files): void
    {
        array_push($this->files, ...$files);
    }

    /**
     * Writes the manifest.
     *
     * @return list<array{name: string, bytes: int, sha256: string}> all files, the manifest last
     */
    public function close(): array
    {
        $lines = '';
        usort($this->files, static fn (array $a, array $b): int => strcmp($a['name'], $b['name']));
        foreach ($this->files as $file) {
            $lines .= $file['sha256'].'  '.$file['name']."\n";
        }
        $this->write(self::MANIFEST, [$lines]);

        return $this->files;
    }
}
