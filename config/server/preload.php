<?php

declare(strict_types=1);

// What is loaded here is there before the first request, and lies in memory once for all processes. Only it may call the system's
// libraries (ffi.enable=preload); two of its classes do: they unpack Brotli and Zstandard bodies, and tell the encoding of a text that
// says nothing of it.

$root = dirname(__DIR__, 2);
$container = glob((string) getenv('YPOMNA_DATA').'/cache/prod/Ypomna_App_KernelProdContainer.preload.php');
require is_array($container) && [] !== $container ? $container[0] : $root.'/vendor/autoload.php';

// Whatever a request may need: to look for its files takes a tenth of a short answer's time.
foreach (['core' => 'Ypomna\Core', 'src' => 'Ypomna\App'] as $folder => $namespace) {
    foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root.'/'.$folder, FilesystemIterator::SKIP_DOTS)) as $file) {
        if ($file instanceof SplFileInfo && 'php' === $file->getExtension()) {
            $class = $namespace.strtr(substr($file->getPathname(), strlen($root.'/'.$folder), -4), '/', '\\');
            class_exists($class) || interface_exists($class);
        }
    }
}
