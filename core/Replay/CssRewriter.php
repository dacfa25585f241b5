<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

use Ypomna\Core\Page\StyleReferences;

/** Turns the references of a style sheet towards the archive. All else stays as it is, byte for byte. */
final readonly class CssRewriter
{
    public function __construct(private ReferenceMapper $mapper)
    {
    }

    public function rewrite(string $css): string
    {
        $out = '';
        $at = 0;
        foreach (StyleReferences::of($css) as $reference) {
            $mapped = $this->mapper->map($reference->value);
            if ($mapped === $reference->value) {
                continue;
            }
            $string = '"'.addcslashes($mapped, '"\\').'"';
            $out .= substr($css, $at, $reference->offset - $at).($reference->isString ? $string : 'url('.$string.')');
            $at = $reference->offset + $reference->length;
        }

        return $out.substr($css, $at);
    }
}
