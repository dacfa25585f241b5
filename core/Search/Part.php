<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** What a piece of text is of its page. */
enum Part: int
{
    case Title = 1;
    /** What was written beside it: descriptions, tags, the words of its address. */
    case About = 2;
    case Heading = 3;
    case Main = 4;
    /** What stands around the main text. */
    case Rest = 5;
    /** Words in a picture, read by machine. */
    case Seen = 6;
    /** Words of a recording, heard by machine. */
    case Heard = 7;

    public function word(): string
    {
        return strtolower($this->name);
    }
}
