<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** The data folder of the application's tests, which they empty again and again: only one that a test run made for them will do. */
final class TestFolder
{
    /** Put there by the test command. */
    public const MARKER = '.made-for-tests';
    /** Where nothing is and nothing can be made: the data folder of tests that need none. */
    public const NOWHERE = '/dev/null/ypomna';

    /**
     * Whether the tests that a command line asks for touch the data folder: unless it plainly asks for others only.
     *
     * @param list<string> $arguments of the test runner
     */
    public static function isNeeded(array $arguments): bool
    {
        $others = false;
        foreach ($arguments as $n => $argument) {
            $suites = str_starts_with($argument, '--testsuite=')
                ? substr($argument, 12)
                : ('--testsuite' === ($arguments[$n - 1] ?? '') ? $argument : null);
            if (null !== $suites) {
                if ([] !== array_diff(explode(',', $suites), ['core', 'rules', 'system'])) {
                    return true;
                }
                $others = true;
            } elseif ($n > 0 && !str_starts_with($argument, '-') && str_contains($argument, 'tests')) {
                if (str_contains($argument, '..') || 1 !== preg_match('#(?:^|/)tests/(?:Core|Files|System|Rules)(?:/|$)#', $argument)) {
                    return true;
                }
                $others = true;
            }
        }

        return !$others;
    }

    /**
     * @throws \RuntimeException if the folder is not one that a test run made
     */
    public static function check(string $folder): void
    {
        $why = match (true) {
            self::NOWHERE === $folder => 'none was given',
            !is_file($folder.'/'.self::MARKER) => \sprintf('“%s” was not made by a test run', $folder),
            is_file($folder.'/ypomna.env') => \sprintf('“%s” is the data folder of an installation', $folder),
            default => null,
        };
        if (null !== $why) {
            throw new \RuntimeException(\sprintf(
                'These tests empty the data folder that they work in, and %s. Run them by bin/test application, which makes one and its'
                    .' database.',
                $why,
            ));
        }
    }
}
