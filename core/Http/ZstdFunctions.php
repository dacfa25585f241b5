<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * The functions of libzstd as FFI offers them; never implemented, only for the types.
 *
 * @internal
 */
interface ZstdFunctions
{
    public function ZSTD_createDCtx(): \FFI\CData;

    public function ZSTD_freeDCtx(\FFI\CData $context): int;

    public function ZSTD_DCtx_setParameter(\FFI\CData $context, int $parameter, int $value): int;

    /** @return int an error if {@see ZSTD_isError()} says so */
    public function ZSTD_decompressStream_simpleArgs(
        \FFI\CData $context,
        \FFI\CData $to,
        int $room,
        \FFI\CData $toAt,
        \FFI\CData $from,
        int $size,
        \FFI\CData $fromAt,
    ): int;

    public function ZSTD_isError(int $code): int;
}
