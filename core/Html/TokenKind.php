<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/** @internal */
enum TokenKind
{
    case Doctype;
    case Start;
    case End;
    case Text;
}
