<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

/** A site that forgets to renew its certificate. */
interface Lapses
{
    /**
     * Host names whose certificate has expired at that moment.
     *
     * @return list<string>
     */
    public function lapsed(\DateTimeImmutable $now): array;
}
