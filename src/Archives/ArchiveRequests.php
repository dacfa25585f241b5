<?php

declare(strict_types=1);

namespace Ypomna\App\Archives;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Network\WebAccess;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;

/** Requests to other archives, several at a time, each through the gateway; what they bring lies in a folder until all is done. */
final readonly class ArchiveRequests
{
    private const USER_AGENT = 'Ypomna/0.1 (archive client; RFC 7089)';

    public function __construct(private WebAccess $web, private ClockInterface $clock, private string $folder)
    {
    }

    public function clean(): void
    {
        (new Filesystem())->remove($this->folder);
    }

    public function ask(Limits $limits): Ask
    {
        $folder = $this->folder.'/'.bin2hex(random_bytes(6));
        (new Filesystem())->mkdir($folder, 0o700);

        return new Ask(
            new Gateway(
                $this->web->pathfinder($limits), $folder, $limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9,
            ),
            self::USER_AGENT,
        );
    }
}
