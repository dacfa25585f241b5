<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** Why a tag could suit an item. */
enum WhySuggested: string
{
    /** It is used already, and its words stand in the page. */
    case Page = 'page';
    /** It is used in the dossier. */
    case Dossier = 'dossier';
    /** The page is told from others by these words. */
    case Words = 'words';
}
