<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

/** Where the codes of what a file brings come from, if the ledger has none for it. */
enum CodeSource
{
    /** It is new. */
    case Random;
    /** It is entered again; addresses that the ledger does not know had their codes before those stood there. */
    case Ledger;
    /** It is entered again, and was entered first when codes were digests: captures have theirs by that rule, too. */
    case Digests;
}
