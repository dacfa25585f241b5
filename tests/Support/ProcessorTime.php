<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** How long the processor worked for this process: on a busy machine the clock says more of the others. */
final class ProcessorTime
{
    /** Seconds since the process began. */
    public static function seconds(): float
    {
        $used = getrusage();
        if (false === $used) {
            throw new \RuntimeException('The system does not say how long it worked for this process.');
        }

        /** @var array<string, int> $used */
        return $used['ru_utime.tv_sec'] + $used['ru_stime.tv_sec'] + ($used['ru_utime.tv_usec'] + $used['ru_stime.tv_usec']) / 1e6;
    }
}
