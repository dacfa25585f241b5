<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** What a record is to the page that it was kept with. */
enum RecordRole: string
{
    case Answer = 'answer';
    case Dom = 'dom';
    case Text = 'text';
    case Picture = 'picture';
    case Metadata = 'metadata';
    /** A further piece of a record that was cut into several; found by the id of the first. */
    case Segment = 'segment';
}
