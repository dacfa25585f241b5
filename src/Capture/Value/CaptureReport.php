<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Verdict;

/** What came of a capture. */
final readonly class CaptureReport
{
    /**
     * @param string|null $reason a word for why it is not whole; null if it is
     * @param string|null $message the same for people
     * @param list<Trouble> $troubles
     * @param int $parts exchanges that were kept, the page's own among them
     * @param list<Gap> $gaps
     * @param list<string> $stray addresses of exchanges that no request of the page claims
     * @param bool $written whether there is a file
     * @param array<string, float> $seconds what each step took
     */
    public function __construct(
        public string $url,
        public string $finalUrl,
        public \DateTimeImmutable $capturedAt,
        public string $how,
        public ?int $status,
        public string $title,
        public Verdict $verdict,
        public ?string $reason,
        public ?string $message,
        public array $troubles,
        public int $parts,
        public array $gaps,
        public array $stray,
        public bool $written,
        public array $seconds = [],
        /** Seconds after which the server wants to be asked again (RFC 9110, section 10.2.3). */
        public ?int $retryAfter = null,
    ) {
    }

    /**
     * As it is told by the command, and kept beside the capture.
     *
     * @return array<string, mixed>
     */
    public function facts(): array
    {
        return [
            'url' => $this->url, 'finalUrl' => $this->finalUrl,
            'capturedAt' => (string) preg_replace(
                '/\.0+Z$/', 'Z', $this->capturedAt->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z'),
            ),
            'how' => $this->how, 'status' => $this->status, 'title' => $this->title, 'verdict' => $this->verdict->value,
            'reason' => $this->reason,
            'troubles' => array_map(static fn (Trouble $trouble): string => $trouble->value, $this->troubles), 'parts' => $this->parts,
            'gaps' => array_map(
                static fn (Gap $gap): array => ['url' => $gap->url, 'kind' => $gap->kind->value, 'reason' => $gap->reason->value],
                $this->gaps,
            ),
            'stray' => $this->stray,
        ];
    }
}
