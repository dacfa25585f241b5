<?php

declare(strict_types=1);

namespace Ypomna\App;

use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;
use Ypomna\App\Shared\DataFolder;

final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    public function getProjectDir(): string
    {
        return \dirname(__DIR__);
    }

    public function getCacheDir(): string
    {
        return DataFolder::ofSettings()->cache().'/'.$this->environment;
    }

    public function getLogDir(): string
    {
        return DataFolder::ofSettings()->log();
    }
}
