<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * Records of many files in as few as hold them: another one is begun where the next group of records would make it larger
 * than wanted (ISO 28500:2017, annex C: files of about 1 GB). Each begins with a warcinfo record of its own.
 */
final class RollingFile
{
    /** After so many bytes it is asked again whether there is room for more. */
    public const ROOM_BYTES = 33_554_432;

    /** @var resource|null */
    private $handle;
    private ?\HashContext $digest = null;
    private int $bytes = 0;
    private int $since = 0;
    /** @var list<array{name: string, bytes: int, sha256: string}> */
    private array $files = [];

    /**
     * @param string $folder where the files are made
     * @param string $name what their names begin with
     * @param int $most bytes of a file; a group of records that is larger by itself makes a larger one
     * @param string $description what the files are, for their warcinfo
     * @param (\Closure(): void)|null $room asked every now and then; throws where the disk has no room for more
     */
    public function __construct(
        private readonly string $folder,
        private readonly string $name,
        private readonly int $most,
        private readonly string $software,
        private readonly \DateTimeImmutable $date,
        private readonly string $description,
        private readonly ?\Closure $room = null,
    ) {
    }

    /** A group of records is to come that should stay together. */
    public function group(int $bytes): void
    {
        if (null !== $this->handle && $this->bytes + $bytes > $this->most) {
            $this->end();
        }
        if (null === $this->handle) {
            $this->begin();
        }
    }

    /**
     * Adds whole records, each a gzip member.
     *
     * @param iterable<string> $pieces
     *
     * @throws \RuntimeException if not everything could be written
     */
    public function add(iterable $pieces): void
    {
        if (null === $this->handle) {
            $this->begin();
        }
        foreach ($pieces as $piece) {
            if (null === $this->handle || \strlen($piece) !== @fwrite($this->handle, $piece)) {
                throw new \RuntimeException('The disk took no more.');
            }
            if (null !== $this->digest) {
                hash_update($this->digest, $piece);
            }
            $this->bytes += \strlen($piece);
            $this->since += \strlen($piece);
            if ($this->since > self::ROOM_BYTES) {
                $this->since = 0;
                $this->room?->__invoke();
            }
        }
    }

    /**
     * @return list<array{name: string, bytes: int, sha256: string}> the files that were made
     */
    public function close(): array
    {
        $this->end();

        return $this->files;
    }

    private function begin(): void
    {
        $name = $this->current();
        $handle = @fopen($this->folder.'/'.$name, 'x');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be made.', $name));
        }
        $this->handle = $handle;
        $this->digest = hash_init('sha256');
        $this->bytes = 0;
        $info = fopen('php://memory', 'w+');
        \assert(false !== $info);
        $hash = hash('sha256', $this->description.' '.$name);
        (new WarcWriter($info))->write(
            RecordType::Warcinfo,
            \sprintf(
                'urn:uuid:%s-%s-8%s-a%s-%s', substr($hash, 0, 8), substr($hash, 8, 4), substr($hash, 13, 3), substr($hash, 17, 3),
                substr($hash, 20, 12),
            ),
            $this->date,
            ['WARC-Filename' => $name, 'Content-Type' => 'application/warc-fields'],
            Block::ofString(
                'software: '.$this->software."\r\nformat: WARC File Format 1.1\r\nconformsTo: ISO 28500:2017\r\ndescription: "
                    .$this->description."\r\n",
            ),
        );
        $this->add([(string) stream_get_contents($info, null, 0)]);
        fclose($info);
    }

    private function end(): void
    {
        if (null === $this->handle || null === $this->digest) {
            return;
        }
        $synced = fflush($this->handle) && fsync($this->handle);
        fclose($this->handle);
        $this->handle = null;
        if (!$synced) {
            throw new \RuntimeException('The disk took no more.');
        }
        $this->files[] = ['name' => $this->current(), 'bytes' => $this->bytes, 'sha256' => hash_final($this->digest)];
    }

    private function current(): string
    {
        return \sprintf('%s-%05d.warc.gz', $this->name, \count($this->files) + 1);
    }
}
