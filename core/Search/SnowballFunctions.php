<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/**
 * The functions of libstemmer as FFI offers them; never implemented, only for the types.
 *
 * @internal
 */
interface SnowballFunctions
{
    public function sb_stemmer_new(string $algorithm, ?string $encoding): ?\FFI\CData;

    public function sb_stemmer_stem(\FFI\CData $stemmer, string $word, int $size): ?\FFI\CData;

    public function sb_stemmer_length(\FFI\CData $stemmer): int;
}
