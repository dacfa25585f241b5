<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/** What there is to tell about a change. */
final readonly class ChangeNotice
{
    /**
     * @param string $before what stood there; '' where nothing did
     * @param string $after what stands there
     * @param int $more further changes of substance, which are not spelt out
     */
    public function __construct(public string $before, public string $after, public int $more = 0)
    {
    }
}
