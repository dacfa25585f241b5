<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

/** How much of a page is kept. */
enum Extent: string
{
    case Whole = 'whole';
    /** The page itself and what is written on it, without pictures, styles and scripts. */
    case Text = 'text';
    /** The page itself and one part of it, as it looks. */
    case Part = 'part';
    /** The address, and what the page says of itself. */
    case Address = 'address';
}
