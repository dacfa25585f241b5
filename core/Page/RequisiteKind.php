<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** What a page asks for a part as. */
enum RequisiteKind: string
{
    case Image = 'image';
    case Style = 'style';
    /** A style for paper only. */
    case Print = 'print';
    case Script = 'script';
    case Font = 'font';
    case Frame = 'frame';
    case Media = 'media';
    /** What stands beside the page, not in it. */
    case Icon = 'icon';
    /** Something that only a plug-in of old could show. */
    case Plugin = 'plugin';
}
