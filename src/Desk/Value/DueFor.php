<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What is to be done with an item when its day has come. */
enum DueFor: string
{
    case Read = 'read';
    case FollowUp = 'follow-up';
    case Capture = 'capture';
}
