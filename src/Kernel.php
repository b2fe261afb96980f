<?php

namespace Pestle\App;

use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;

final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    public function getProjectDir(): string
    {
        return \dirname(__DIR__);
    }

    /** Where database, samples and rendered sound live. */
    public static function dataFolder(): string
    {
        $folder = getenv('PESTLE_DATA') ?: ($_SERVER['PESTLE_DATA'] ?? '');

        return \is_string($folder) && '' !== $folder ? rtrim($folder, '/') : \dirname(__DIR__).'/data';
    }
}
