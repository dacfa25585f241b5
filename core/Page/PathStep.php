<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** One element of the way to a passage, written `name#id.class.class:n`, n being its place among siblings of its name, from 1. */
final class PathStep
{
    private const MOST_CLASSES = 8;

    public static function write(string $name, ?string $id, ?string $classes, int $place): string
    {
        $step = self::plain($name);
        if (null !== $id && '' !== self::plain($id)) {
            $step .= '#'.self::plain($id);
        }
        if (null !== $classes) {
            foreach (\array_slice((array) preg_split('/\s+/', trim($classes), -1, \PREG_SPLIT_NO_EMPTY), 0, self::MOST_CLASSES) as $class) {
                $step .= '.'.self::plain((string) $class);
            }
        }

        return $step.':'.$place;
    }

    /** Without the characters that part the pieces of a step, and of a bounded length. */
    public static function plain(string $name): string
    {
        return substr((string) preg_replace('/[\s#.:>]+/', '_', trim($name)), 0, 60);
    }
}
