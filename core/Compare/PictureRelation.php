<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** What a picture is to the one that it replaced. */
enum PictureRelation: string
{
    case SavedAnew = 'saved-anew';
    case Resized = 'resized';
    case Cut = 'cut';
    case Other = 'other';
}
