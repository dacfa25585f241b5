<?php

declare(strict_types=1);

// Only what is loaded here may call the system's libraries (ffi.enable=preload): it unpacks Brotli and Zstandard bodies.
opcache_compile_file(dirname(__DIR__, 2).'/core/Http/NativeCodec.php');
