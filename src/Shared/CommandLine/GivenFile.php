<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\CommandLine;

/** A file that a command was given by name, or `-`: standard input, put on the disk so that it can be gone back in. */
final class GivenFile
{
    private const STEP = 1_048_576;

    /** @var resource|null a temporary file that goes with this object */
    private $spool;

    public readonly string $path;

    /**
     * @throws UnreadableFile
     */
    public function __construct(public readonly string $name)
    {
        if ('-' !== $name) {
            if (!is_file($name) || !is_readable($name)) {
                throw new UnreadableFile(\sprintf('%s: %s', $name, match (true) {
                    is_dir($name) => 'this is a folder, not a file.', file_exists($name) => 'the file may not be read.',
                    default => 'there is no such file.',
                }));
            }
            $this->path = $name;

            return;
        }
        $spool = tmpfile();
        if (false === $spool) {
            throw new UnreadableFile('Standard input cannot be put on the disk.');
        }
        while (!feof(\STDIN)) {
            $piece = (string) fread(\STDIN, self::STEP);
            if (\strlen($piece) !== @fwrite($spool, $piece)) {
                throw new UnreadableFile('Standard input cannot be put on the disk: it is full.');
            }
        }
        fflush($spool);
        $this->spool = $spool;
        $this->path = stream_get_meta_data($spool)['uri'] ?? throw new UnreadableFile('Standard input cannot be put on the disk.');
    }

    public function __destruct()
    {
        if (\is_resource($this->spool)) {
            fclose($this->spool);
        }
    }
}
