<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** What a passage is on its page. */
enum PassageKind: string
{
    case Sentence = 'sentence';
    case Heading = 'heading';
    case Item = 'item';
    case Cell = 'cell';
    case Caption = 'caption';
    case Line = 'line';
    case Term = 'term';
}
