<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Takes Brotli (RFC 7932) and Zstandard (RFC 8878) off a body as it passes, with the system's own libraries, for which PHP
 * has no extension here. Where those, or the right to call them, are missing, the coding is said not to be known.
 */
final class NativeCodec
{
    private const STEP = 65_536;
    /** What a window may take at most, as a power of two: 8 MiB (RFC 8878 section 3.1.1.1.2). */
    private const ZSTD_WINDOW = 23;
    private const ZSTD_WINDOW_PARAMETER = 100;
    private const MORE_WANTED = 2;
    private const MORE_THERE = 3;

    private const BROTLI = <<<'C'
        void* BrotliDecoderCreateInstance(void*, void*, void*);
        void BrotliDecoderDestroyInstance(void*);
        int BrotliDecoderDecompressStream(void*, size_t*, const uint8_t**, size_t*, uint8_t**, size_t*);
        C;
    private const ZSTD = <<<'C'
        void* ZSTD_createDCtx(void);
        size_t ZSTD_freeDCtx(void*);
        size_t ZSTD_DCtx_setParameter(void*, int, int);
        size_t ZSTD_decompressStream_simpleArgs(void*, void*, size_t, size_t*, const void*, size_t, size_t*);
        unsigned ZSTD_isError(size_t);
        C;

    /** @var array<string, \FFI|null> */
    private static array $libraries = [];

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string> up to the end, or to where the coding is broken
     *
     * @throws UnsupportedCoding
     */
    public static function brotli(iterable $pieces): \Generator
    {
        /** @var BrotliFunctions $library */
        $library = self::library('br', self::BROTLI, 'libbrotlidec.so.1');

        return self::unbrotli($library, $pieces);
    }

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string> up to the end, or to where the coding is broken
     *
     * @throws UnsupportedCoding
     */
    public static function zstd(iterable $pieces): \Generator
    {
        /** @var ZstdFunctions $library */
        $library = self::library('zstd', self::ZSTD, 'libzstd.so.1');

        return self::unzstd($library, $pieces);
    }

    /**
     * @param BrotliFunctions $library
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function unbrotli(object $library, iterable $pieces): \Generator
    {
        $state = $library->BrotliDecoderCreateInstance(null, null, null);
        [$out, $left, $room] = [self::memory('uint8_t', self::STEP), self::memory('size_t', 1), self::memory('size_t', 1)];
        [$from, $to] = [self::memory('uint8_t*', 1), self::memory('uint8_t*', 1)];
        try {
            foreach (self::steps($pieces) as $step) {
                $in = self::bytes($step);
                self::set($left, \strlen($step));
                self::set($from, self::pointer($in));
                do {
                    self::set($room, self::STEP);
                    self::set($to, self::pointer($out));
                    $result = $library->BrotliDecoderDecompressStream($state, $left, $from, $room, $to, null);
                    $written = self::STEP - self::number($room);
                    if ($written > 0) {
                        yield \FFI::string($out, $written);
                    }
                } while (self::MORE_THERE === $result);
                if (self::MORE_WANTED !== $result) {
                    return;
                }
            }
        } finally {
            $library->BrotliDecoderDestroyInstance($state);
        }
    }

    /**
     * @param ZstdFunctions $library
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, string>
     */
    private static function unzstd(object $library, iterable $pieces): \Generator
    {
        $context = $library->ZSTD_createDCtx();
        $library->ZSTD_DCtx_setParameter($context, self::ZSTD_WINDOW_PARAMETER, self::ZSTD_WINDOW);
        [$out, $fromAt, $toAt] = [self::memory('uint8_t', self::STEP), self::memory('size_t', 1), self::memory('size_t', 1)];
        try {
            foreach (self::steps($pieces) as $step) {
                $in = self::bytes($step);
                self::set($fromAt, 0);
                do {
                    self::set($toAt, 0);
                    $result = $library->ZSTD_decompressStream_simpleArgs($context, $out, self::STEP, $toAt, $in, \strlen($step), $fromAt);
                    if (0 !== $library->ZSTD_isError($result)) {
                        return;
                    }
                    $written = self::number($toAt);
                    if ($written > 0) {
                        yield \FFI::string($out, $written);
                    }
                } while (self::number($fromAt) < \strlen($step) || self::STEP === $written);
            }
        } finally {
            $library->ZSTD_freeDCtx($context);
        }
    }

    /**
     * @param iterable<string> $pieces
     *
     * @return \Generator<int, non-empty-string>
     */
    private static function steps(iterable $pieces): \Generator
    {
        foreach ($pieces as $piece) {
            foreach ('' === $piece ? [] : str_split($piece, self::STEP) as $step) {
                if ('' !== $step) {
                    yield $step;
                }
            }
        }
    }

    private static function library(string $coding, string $declarations, string $name): object
    {
        if (!\array_key_exists($name, self::$libraries)) {
            try {
                self::$libraries[$name] = class_exists(\FFI::class) ? \FFI::cdef($declarations, $name) : null;
            } catch (\FFI\Exception) {
                self::$libraries[$name] = null;
            }
        }

        return self::$libraries[$name] ?? throw new UnsupportedCoding($coding);
    }

    private static function memory(string $type, int $count): \FFI\CData
    {
        return \FFI::cdef()->new($type.'['.$count.']') ?? throw new \RuntimeException('There is no memory for a coder.');
    }

    private static function bytes(string $bytes): \FFI\CData
    {
        $memory = self::memory('uint8_t', max(1, \strlen($bytes)));
        \FFI::memcpy($memory, $bytes, \strlen($bytes));

        return $memory;
    }

    /** Address of a piece of memory. */
    private static function pointer(\FFI\CData $memory): int
    {
        $pointer = \FFI::cdef()->cast('uint8_t*', $memory);
        $cell = null === $pointer ? null : \FFI::cdef()->cast('uintptr_t*', \FFI::addr($pointer));

        return null === $cell ? throw new \RuntimeException('A coder’s memory has no address.') : self::number($cell);
    }

    /** Writes a number or an address of 64 bits. */
    private static function set(\FFI\CData $cell, int $value): void
    {
        \FFI::memcpy($cell, pack('P', $value), 8);
    }

    private static function number(\FFI\CData $cell): int
    {
        $value = $cell[0];

        return \is_int($value) ? $value : 0;
    }
}
