<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

/** How far from where it begins a site is gone through. */
enum Reach: string
{
    /** The hosts of the first pages, with and without `www.`. */
    case Host = 'host';
    /** Those hosts and whatever is below them. */
    case Below = 'below';
    /** The folders in which the first pages lie. */
    case Folder = 'folder';
}
