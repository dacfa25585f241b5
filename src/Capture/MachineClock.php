<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

/**
 * What this machine knows of its own clock, from the kernel's time discipline (adjtimex, RFC 5905 section 12): the
 * largest error that it reckons with, and whether anything keeps it in step at all.
 */
final class MachineClock
{
    private const UNSYNCHRONISED = 0x0040;

    /**
     * @return array<string, mixed> `source`, and where it is known `synchronised`, `offsetMicroseconds`, `maximumErrorMicroseconds`, `estimatedErrorMicroseconds`
     */
    public static function state(): array
    {
        if (!class_exists(\FFI::class)) {
            return ['source' => 'system', 'offset' => 'unknown: the kernel cannot be asked here'];
        }
        try {
            $libc = \FFI::cdef('struct timex { unsigned int modes; long offset, freq, maxerror, esterror; int status; long constant, precision, tolerance; long sec, usec; long tick, ppsfreq, jitter; int shift; long stabil, jitcnt, calcnt, errcnt, stbcnt; int tai; int pad[11]; }; int adjtimex(struct timex *t);');
            $timex = $libc->new('struct timex');
            if (null === $timex || -1 === $libc->adjtimex(\FFI::addr($timex))) { // @phpstan-ignore method.notFound
                return ['source' => 'system', 'offset' => 'unknown: the kernel did not say'];
            }

            return [
                'source' => 'system', 'synchronised' => 0 === (self::field($timex, 'status') & self::UNSYNCHRONISED), 'offsetMicroseconds' => self::field($timex, 'offset'),
                'maximumErrorMicroseconds' => self::field($timex, 'maxerror'), 'estimatedErrorMicroseconds' => self::field($timex, 'esterror'),
            ];
        } catch (\FFI\Exception) {
            return ['source' => 'system', 'offset' => 'unknown: the kernel cannot be asked here'];
        }
    }

    private static function field(\FFI\CData $struct, string $name): int
    {
        $value = $struct->{$name}; // @phpstan-ignore property.dynamicName

        return \is_int($value) ? $value : 0;
    }
}
