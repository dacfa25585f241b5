<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A document with references, in one format. */
interface Draft
{
    /**
     * @return list<Stretch> in their order
     *
     * @throws UnreadableDraft
     */
    public function stretches(): array;
}
