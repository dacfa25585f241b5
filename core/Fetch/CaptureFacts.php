<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** What is said about a capture as a whole, beside its exchanges. */
final readonly class CaptureFacts
{
    /**
     * @param list<DnsAnswer> $dns
     * @param array<string, list<string>> $certificates PEM chains by host
     * @param array<string, mixed> $clock what the machine knows of its clock
     * @param array<string, mixed> $robots what robots.txt of the hosts said, and whether it bound
     * @param list<Overwritten> $overwritten where values of cookies and sign-ins were overwritten
     * @param array<string, string> $distrusted what was wrong with certificates that were taken all the same, by host
     */
    public function __construct(
        public string $requestedUrl,
        public string $finalUrl,
        public string $title,
        /** `rendered` or `plain`. */
        public string $how,
        /** The person on whose behalf it was made. */
        public string $agent,
        /** Program and version that made it. */
        public string $software,
        public string $browser,
        public array $dns,
        public array $certificates,
        public array $clock,
        public array $robots = [],
        public array $distrusted = [],
        public array $overwritten = [],
    ) {
    }
}
