<?php

declare(strict_types=1);

namespace Ypomna\App;

use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;
use Ypomna\App\Shared\Settings;

final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    public function getProjectDir(): string
    {
        return \dirname(__DIR__);
    }

    public function getCacheDir(): string
    {
        return Settings::dataFolder().'/cache/'.$this->environment;
    }

    public function getLogDir(): string
    {
        return Settings::dataFolder().'/log';
    }
}
