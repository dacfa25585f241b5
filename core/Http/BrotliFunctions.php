<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * The functions of libbrotlidec as FFI offers them; never implemented, only for the types.
 *
 * @internal
 */
interface BrotliFunctions
{
    public function BrotliDecoderCreateInstance(?\FFI\CData $allocate, ?\FFI\CData $free, ?\FFI\CData $opaque): \FFI\CData;

    public function BrotliDecoderDestroyInstance(\FFI\CData $state): void;

    /** @return int 0 an error, 1 the end, 2 wants more, 3 has more */
    public function BrotliDecoderDecompressStream(
        \FFI\CData $state,
        \FFI\CData $availableIn,
        \FFI\CData $nextIn,
        \FFI\CData $availableOut,
        \FFI\CData $nextOut,
        ?\FFI\CData $total,
    ): int;
}
