<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/** The system’s detector of encodings, libuchardet, for which PHP has no extension. Where it is missing nothing is detected. */
final class Detector
{
    private const DECLARATIONS = <<<'C'
        void* uchardet_new(void);
        void uchardet_delete(void*);
        int uchardet_handle_data(void*, const char*, size_t);
        void uchardet_data_end(void*);
        const char* uchardet_get_charset(void*);
        C;

    private static \FFI|false|null $library = null;

    /** @return string|null a name as the library has it, which is not always one of the Encoding Standard; null if it cannot tell */
    public static function detect(string $bytes): ?string
    {
        $library = self::library();
        if (null === $library) {
            return null;
        }
        $detector = $library->uchardet_new();
        try {
            $library->uchardet_handle_data($detector, $bytes, \strlen($bytes));
            $library->uchardet_data_end($detector);
            $name = $library->uchardet_get_charset($detector);
        } finally {
            $library->uchardet_delete($detector);
        }

        return '' === $name ? null : $name;
    }

    /** @return DetectorFunctions|null */
    private static function library(): ?object
    {
        try {
            self::$library ??= class_exists(\FFI::class) ? \FFI::cdef(self::DECLARATIONS, 'libuchardet.so.0') : false;
        } catch (\FFI\Exception) {
            self::$library = false;
        }
        /** @var DetectorFunctions|null $library */
        $library = self::orNull(self::$library);

        return $library;
    }

    private static function orNull(\FFI|false $library): ?object
    {
        return false === $library ? null : $library;
    }
}
