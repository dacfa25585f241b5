<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

use Ypomna\Core\Recurrence\Condition;

/** How a watch is wanted. */
final readonly class WatchWish
{
    /**
     * @param string $target an address; of a list of references, its code
     * @param string $name '' to leave it as it is
     * @param float|null $everyDays by hand; null to find it out
     * @param string|null $hookUrl to be called with each event; null for none
     */
    public function __construct(
        public WatchScope $scope,
        public string $target,
        public string $name = '',
        public Condition $condition = new Condition(),
        public ?float $everyDays = null,
        public bool $keeps = true,
        public bool $mails = true,
        public ?string $hookUrl = null,
        public ?\DateTimeImmutable $dueAt = null,
        public string $dueNote = '',
    ) {
    }
}
