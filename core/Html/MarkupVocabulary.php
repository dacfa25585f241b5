<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/** @internal */
enum MarkupVocabulary
{
    case Html;
    case Svg;
    case Math;
}
