<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Ypomna\App\Capture\JobList;
use Ypomna\App\Capture\RememberedChoices;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\HoldingsTotals;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;

/** What the first screen shows. */
final readonly class FirstView
{
    private const RECENT = 12;

    public function __construct(
        private AddressRepository $addresses,
        private HoldingsTotals $totals,
        private JobList $jobs,
        private RememberedChoices $choices,
    ) {
    }

    /**
     * @return array<string, mixed>
     */
    public function view(Actor $actor, Viewer $viewer): array
    {
        return [
            'recent' => $this->addresses->recent($viewer, self::RECENT), 'totals' => $this->totals->of($viewer),
            'jobs' => $this->jobs->open(), 'chosen' => $this->choices->last($actor),
        ];
    }
}
