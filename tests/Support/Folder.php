<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Filesystem\Filesystem;

/** A folder for one test, removed with it. */
final class Folder
{
    public readonly string $path;

    public function __construct()
    {
        $this->path = sys_get_temp_dir().'/ypomna-test-'.bin2hex(random_bytes(6));
        mkdir($this->path);
    }

    public function __destruct()
    {
        (new Filesystem())->remove($this->path);
    }

    public function file(string $name, string $content): string
    {
        file_put_contents($this->path.'/'.$name, $content);

        return $this->path.'/'.$name;
    }
}
