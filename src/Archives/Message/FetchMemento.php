<?php

declare(strict_types=1);

namespace Ypomna\App\Archives\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to fetch a capture from another archive. */
final readonly class FetchMemento implements QueuedMessage
{
    /**
     * @param string $archive code
     * @param string $url the original address
     * @param string $memento where the archive holds it
     */
    public function __construct(public int $arrivalId, public string $archive, public string $url, public string $memento)
    {
    }
}
