<?php

declare(strict_types=1);

// Only what is loaded here may call the system's libraries (ffi.enable=preload): they unpack Brotli and Zstandard
// bodies, and tell the encoding of a text that says nothing of it.
opcache_compile_file(dirname(__DIR__, 2).'/core/Http/NativeCodec.php');
opcache_compile_file(dirname(__DIR__, 2).'/core/Http/Encoding/Detector.php');
