<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * A record of any WARC file as a gzip member of its own (ISO 28500:2017, annex D): as it stands where it is one already, else
 * packed anew, header and block byte for byte as they were.
 */
final class Repack
{
    private const STEP = 65_536;

    /**
     * @return \Generator<int, string>
     *
     * @throws WarcError before anything is given if the record is damaged
     */
    public static function record(string $path, int $offset): \Generator
    {
        $length = WarcReader::soundMember($path, $offset);
        if (null !== $length) {
            return self::copy($path, $offset, $length);
        }

        return self::anew(WarcReader::at($path, $offset));
    }

    /**
     * A record that is being read, packed anew.
     *
     * @return \Generator<int, string>
     *
     * @throws WarcError before anything is given if it is damaged
     */
    public static function anew(Record $record): \Generator
    {
        // A member that was begun cannot be taken back, so it is made aside.
        $aside = fopen('php://temp/maxmemory:2097152', 'w+');
        $deflater = deflate_init(\ZLIB_ENCODING_GZIP, ['level' => 6]);
        if (false === $aside || false === $deflater) {
            throw new \RuntimeException('The gzip coder cannot be started.');
        }
        $put = static function (string $bytes, int $flush) use ($aside, $deflater): void {
            $packed = (string) deflate_add($deflater, $bytes, $flush);
            if (\strlen($packed) !== @fwrite($aside, $packed)) {
                throw new \RuntimeException('The disk took no more.');
            }
        };
        $put($record->head, \ZLIB_NO_FLUSH);
        foreach ($record->block() as $piece) {
            $put($piece, \ZLIB_NO_FLUSH);
        }
        $put("\r\n\r\n", \ZLIB_FINISH);
        $record->finish();
        foreach ($record->findings() as $finding) {
            if ($finding->code->isDamage()) {
                throw new WarcError(
                    $finding->code, $record->offset, rtrim((string) preg_replace('/ \(at byte \d+\)\.$/', '', $finding->message), '.'),
                );
            }
        }
        rewind($aside);

        return (static function () use ($aside): \Generator {
            while ('' !== ($piece = (string) fread($aside, self::STEP))) {
                yield $piece;
            }
            fclose($aside);
        })();
    }

    /**
     * @return \Generator<int, string>
     */
    private static function copy(string $path, int $offset, int $length): \Generator
    {
        $handle = fopen($path, 'r');
        if (false === $handle) {
            throw new WarcError(WarcFindingCode::NotWarc, $offset, \sprintf('The file “%s” cannot be opened', $path));
        }
        try {
            fseek($handle, $offset);
            for ($left = $length; $left > 0; $left -= \strlen($piece)) {
                $piece = (string) fread($handle, min($left, self::STEP));
                if ('' === $piece) {
                    throw new WarcError(WarcFindingCode::Truncated, $offset, 'The file became shorter while it was read');
                }
                yield $piece;
            }
        } finally {
            fclose($handle);
        }
    }
}
