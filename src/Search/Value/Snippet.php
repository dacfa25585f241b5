<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** Where it stands: a piece of the text, with the words marked. */
final readonly class Snippet
{
    /**
     * @param list<array{int, int}> $marks code points of the text, from and behind
     * @param int $passage number of the passage of the page; -1 if it is in none; of a picture, that behind which it stands
     */
    public function __construct(public string $text, public array $marks, public int $passage, public Means $means = Means::Written)
    {
    }
}
