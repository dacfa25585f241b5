<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

enum Order: string
{
    case Relevance = 'relevance';
    case Newest = 'newest';
    case Oldest = 'oldest';
    case Site = 'site';
    case Title = 'title';
}
