<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A document with references, in one format. */
interface Draft
{
    /**
     * @return list<Stretch> in their order; those without any address or mark may be left out
     *
     * @throws UnreadableDraft
     */
    public function stretches(): array;
}
