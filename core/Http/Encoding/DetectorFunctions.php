<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/**
 * The functions of libuchardet as FFI offers them; never implemented, only for the types.
 *
 * @internal
 */
interface DetectorFunctions
{
    public function uchardet_new(): \FFI\CData;

    public function uchardet_delete(\FFI\CData $detector): void;

    public function uchardet_handle_data(\FFI\CData $detector, string $bytes, int $length): int;

    public function uchardet_data_end(\FFI\CData $detector): void;

    public function uchardet_get_charset(\FFI\CData $detector): string;
}
