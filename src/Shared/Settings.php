<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\Dotenv\Dotenv;

/**
 * Where this installation's settings come from: the environment, and the file `ypomna.env` in its data folder, which the
 * start command writes. What the environment says wins.
 */
final class Settings
{
    public static function load(): void
    {
        $file = DataFolder::ofSettings()->settings();
        if (is_file($file) && is_readable($file)) {
            (new Dotenv())->load($file);
        }
        $_SERVER['YPOMNA_DATA'] = $_ENV['YPOMNA_DATA'] = self::dataFolder();
    }

    public static function environment(): string
    {
        return self::value('APP_ENV') ?? 'prod';
    }

    public static function debug(): bool
    {
        return '1' === self::value('APP_DEBUG');
    }

    /** Absolute path of the folder that holds the program itself. */
    public static function program(): string
    {
        return \dirname(__DIR__, 2);
    }

    /** Absolute path of the folder that holds everything which is not code. */
    public static function dataFolder(): string
    {
        return self::value('YPOMNA_DATA') ?? self::program().'/data';
    }

    /** A setting as the environment or the file gives it. */
    public static function text(string $name, string $otherwise): string
    {
        return self::value($name) ?? $otherwise;
    }

    private static function value(string $name): ?string
    {
        $value = $_SERVER[$name] ?? $_ENV[$name] ?? getenv($name);

        return \is_string($value) && '' !== $value ? $value : null;
    }
}
