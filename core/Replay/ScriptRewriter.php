<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

/**
 * Turns the addresses of imported modules towards the archive (ECMA-262, sections 16.2.2 and 13.3.10; HTML Living Standard,
 * section 8.1.5.8): they are asked for before any script of ours could help. All else in a script stays as it is.
 */
final readonly class ScriptRewriter
{
    private const CALLED = '~(\bimport\s*\(\s*)(["\'])((?:https?:)?//[^"\'\s\\\\]+)\2~';
    private const DECLARED = '~((?:\bfrom|\bimport)\s*)(["\'])((?:https?:)?//[^"\'\s\\\\]+)\2~';
    private const IN_MAP = '~"((?:https?:)?//[^"\s\\\\]+)"~';

    public function __construct(private ReferenceMapper $mapper)
    {
    }

    /** @param bool $isModule whether declarations of imports can stand in it */
    public function rewrite(string $script, bool $isModule): string
    {
        if (!str_contains($script, '//') || !str_contains($script, 'import') && !str_contains($script, 'from')) {
            return $script;
        }
        foreach ($isModule ? [self::CALLED, self::DECLARED] : [self::CALLED] as $pattern) {
            $script = preg_replace_callback($pattern, fn (array $m): string => $m[1].$m[2].$this->mapper->mapAbsolute($m[3]).$m[2], $script)
                ?? $script;
        }

        return $script;
    }

    /** @param string $json an import map */
    public function importMap(string $json): string
    {
        return preg_replace_callback(self::IN_MAP, fn (array $m): string => '"'.$this->mapper->mapAbsolute($m[1]).'"', $json) ?? $json;
    }
}
