<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Ypomna\App\Network\WebAccess;
use Ypomna\Core\Fetch\Limits;

/** Whether this machine can tell: one without a network, or whose name server knows nobody any more, declares nothing dead. */
final class Surroundings
{
    private const NAMES = 4;
    /** What was found holds so long, in seconds. */
    private const HOLDS = 20.0;

    private ?float $askedAt = null;
    private bool $known = true;

    public function __construct(private readonly WebAccess $web, private readonly CheckRepository $checks)
    {
    }

    /**
     * Whether the name server is to be believed when it says that a name does not exist.
     *
     * @return bool false if it knows none of several hosts that were alive lately
     */
    public function believed(): bool
    {
        if (null !== $this->askedAt && microtime(true) - $this->askedAt < self::HOLDS) {
            return $this->known;
        }
        $hosts = $this->checks->aliveHosts(self::NAMES);
        $this->known = [] === $hosts || $this->anyKnown($hosts);
        $this->askedAt = microtime(true);

        return $this->known;
    }

    /** @param list<string> $hosts */
    private function anyKnown(array $hosts): bool
    {
        $paths = $this->web->pathfinder(new Limits());
        foreach ($hosts as $host) {
            if ($paths->knows($host)) {
                return true;
            }
        }

        return false;
    }
}
