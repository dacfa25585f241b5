<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/**
 * What this machine knows of its own clock, from the kernel's time discipline (adjtimex, RFC 5905 section 12): the
 * largest error that it reckons with, and whether anything keeps it in step at all.
 */
final class MachineClock
{
    private const UNSYNCHRONISED = 0x0040;
    /** Of `struct timex` on 64-bit Linux: all that is read here, and room for the rest. */
    private const FIELDS = 'Vmodes/x4/qoffset/qfrequency/qmaximumError/qestimatedError/Vstatus';
    private const SIZE = 512;

    /**
     * @return array<string, mixed> `source`, and where it is known `synchronised`, `offsetMicroseconds`, `maximumErrorMicroseconds`,
     *     `estimatedErrorMicroseconds`
     */
    public static function state(): array
    {
        $unknown = ['source' => 'system', 'offset' => 'unknown: the kernel cannot be asked here'];
        if (!class_exists(\FFI::class) || 8 !== \PHP_INT_SIZE) {
            return $unknown;
        }
        try {
            $memory = \FFI::cdef()->new('uint8_t['.self::SIZE.']');
            $library = self::library();
            if (null === $memory || -1 === $library->adjtimex($memory)) {
                return ['source' => 'system', 'offset' => 'unknown: the kernel did not say'];
            }
            /** @var array{modes: int, offset: int, frequency: int, maximumError: int, estimatedError: int, status: int} $timex */
            $timex = unpack(self::FIELDS, \FFI::string($memory, self::SIZE));

            return [
                'source' => 'system', 'synchronised' => 0 === ($timex['status'] & self::UNSYNCHRONISED),
                'offsetMicroseconds' => $timex['offset'],
                'maximumErrorMicroseconds' => $timex['maximumError'], 'estimatedErrorMicroseconds' => $timex['estimatedError'],
            ];
        } catch (\FFI\Exception) {
            return $unknown;
        }
    }

    /**
     * @return AdjtimeFunctions
     */
    private static function library(): object
    {
        /** @var AdjtimeFunctions $library */
        $library = self::anything(\FFI::cdef('int adjtimex(void *t);'));

        return $library;
    }

    private static function anything(object $library): object
    {
        return $library;
    }
}
