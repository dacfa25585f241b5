<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\RememberedChoices;
use Ypomna\App\Catalogue\AddressHistory;

/** What the first screen shows. */
final readonly class FirstView
{
    private const RECENT = 12;

    public function __construct(private AddressHistory $history, private JobList $jobs, private RememberedChoices $choices)
    {
    }

    /**
     * @return array<string, mixed>
     */
    public function view(): array
    {
        return ['recent' => $this->history->recent(self::RECENT), 'totals' => $this->history->totals(), 'jobs' => $this->jobs->open(), 'chosen' => $this->choices->last()];
    }
}
