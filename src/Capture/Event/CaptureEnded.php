<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Event;

/** A page that somebody asked for is kept, or could not be kept. It is told once the catalogue has it, or never will. */
final readonly class CaptureEnded
{
    /**
     * @param string $jobCode code of the job
     * @param string|null $captureCode code of the capture; null if the page could not be kept
     * @param string|null $reason code of the reason, if it could not
     * @param string|null $dossier code of the one that is to hold it; null if none was said
     * @param string $agent who asked for it
     * @param \DateTimeImmutable|null $due when they want to be reminded of it
     */
    public function __construct(
        public string $jobCode,
        public ?string $captureCode,
        public ?string $reason,
        public ?string $dossier,
        public string $agent,
        public ?\DateTimeImmutable $due = null,
    ) {
    }
}
