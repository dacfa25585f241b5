<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Whoever has signed in, as the rooms below `People` know them. */
interface SignedIn
{
    public function viewer(): Viewer;

    public function actor(): Actor;

    /** Name of the time zone that they chose; null if the browser's is theirs. */
    public function zone(): ?string;

    /** The language that they chose; null if the browser's is theirs. */
    public function language(): ?string;
}
