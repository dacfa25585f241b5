<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Bodies as streams of pieces: transfer-coding and content-coding taken off as the bytes pass.
 */
final class Body
{
    private const MOST_CODINGS = 2;
    /** Of a body without its codings, in bytes. */
    private const MOST_UNPACKED = 2_147_483_648;
    /** Up to here whatever it was packed to; beyond, so many times as large as that. */
    private const FREELY_UNPACKED = 33_554_432;
    private const MOST_SWELLING = 200;

    /**
     * The body without its chunked coding; where that is broken, as it stands from there on.
     *
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    public static function unchunk(iterable $pieces): \Generator
    {
        $decoder = new ChunkedDecoder();
        $broken = false;
        foreach ($pieces as $piece) {
            $held = $decoder->held();
            try {
                $out = $broken ? $piece : $decoder->push($piece);
            } catch (MalformedMessage) {
                $broken = true;
                $out = $held.$piece;
            }
            if ('' !== $out) {
                yield $out;
            }
        }
        // What looked like the beginning of a size line and never became one was no chunk at all.
        if (!$broken && !$decoder->isDone() && '' !== $decoder->held()) {
            yield $decoder->held();
        }
    }

    /**
     * The body without its content-codings (RFC 9110 section 8.4): gzip; deflate with or without its zlib wrapper; Brotli
     * and Zstandard where the system's libraries are there. A few bytes can stand for any number: beyond a size and a ratio that
     * no page reaches, the body ends with TooLarge.
     *
     * @param iterable<string> $pieces
     * @param list<string> $codings in the order in which they were applied, lower case
     *
     * @return iterable<string>
     *
     * @throws UnsupportedCoding if one of them is not known here, or there are more than anybody applies
     */
    public static function decode(iterable $pieces, array $codings): iterable
    {
        $codings = array_values(array_filter($codings, static fn (string $coding): bool => 'identity' !== $coding));
        if ([] === $codings) {
            return $pieces;
        }
        if (\count($codings) > self::MOST_CODINGS) {
            throw new UnsupportedCoding(implode(', ', \array_slice($codings, 0, 5)));
        }
        $packed = new Passed();
        $pieces = $packed->by($pieces);
        foreach (array_reverse($codings) as $coding) {
            $pieces = match ($coding) {
                'gzip', 'x-gzip' => self::inflate($pieces, \ZLIB_ENCODING_GZIP),
                'deflate' => self::inflate($pieces, \ZLIB_ENCODING_DEFLATE),
                'br' => NativeCodec::brotli($pieces),
                'zstd' => NativeCodec::zstd($pieces),
                default => throw new UnsupportedCoding($coding),
            };
        }

        return self::bounded($pieces, $packed);
    }

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function bounded(iterable $pieces, Passed $packed): \Generator
    {
        $bytes = 0;
        foreach ($pieces as $piece) {
            $bytes += \strlen($piece);
            if ($bytes > self::MOST_UNPACKED || ($bytes > self::FREELY_UNPACKED && $bytes > self::MOST_SWELLING * $packed->bytes)) {
                throw new TooLarge($bytes - \strlen($piece));
            }
            yield $piece;
        }
    }

    /**
     * What lies behind a message head in a block.
     *
     * @param iterable<string> $block
     *
     * @return \Generator<int, string>
     */
    public static function skip(iterable $block, int $bytes): \Generator
    {
        foreach ($block as $piece) {
            $length = \strlen($piece);
            if ($bytes >= $length) {
                $bytes -= $length;
                continue;
            }
            yield 0 === $bytes ? $piece : substr($piece, $bytes);
            $bytes = 0;
        }
    }

    /**
     * All pieces as one string.
     *
     * @param iterable<string> $pieces
     *
     * @throws TooLarge
     */
    public static function collect(iterable $pieces, int $limit): string
    {
        $all = '';
        foreach ($pieces as $piece) {
            $all .= $piece;
            if (\strlen($all) > $limit) {
                throw new TooLarge($limit);
            }
        }

        return $all;
    }

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function inflate(iterable $pieces, int $encoding): \Generator
    {
        $inflater = null;
        foreach ($pieces as $piece) {
            if (null === $inflater) {
                // A zlib wrapper announces itself in the low half of its first byte; servers also send bare deflate.
                $raw = \ZLIB_ENCODING_DEFLATE === $encoding && '' !== $piece && 8 !== (\ord($piece[0]) & 0x0F);
                $inflater = inflate_init($raw ? \ZLIB_ENCODING_RAW : $encoding);
            }
            // Small steps: a piece of a bomb must not unpack to more than memory holds at once.
            foreach (str_split($piece, 4096) as $step) {
                if (false === $inflater || \ZLIB_STREAM_END === inflate_get_status($inflater)) {
                    return;
                }
                $out = @inflate_add($inflater, $step);
                if (false === $out) {
                    return;
                }
                if ('' !== $out) {
                    yield $out;
                }
            }
        }
    }
}
