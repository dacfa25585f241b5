<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\PlainVisit;
use Ypomna\App\Capture\RobotsRules;
use Ypomna\Core\Http\CookieJar;

/** What a worker remembers of a site between its turns; all of it can be had again. */
final class SiteMemory
{
    private const MOST = 200_000;
    /** Robots files are asked for again after so many seconds (RFC 9309, section 2.4 allows a day). */
    private const AGE = 3_600;

    public readonly FetchedParts $parts;
    public readonly RobotsRules $robots;
    public readonly CookieJar $jar;
    private readonly float $begun;
    /** @var array<string, true> links that were entered, by what they are */
    private array $seen = [];

    public function __construct(Connection $database, public readonly int $crawl)
    {
        $this->parts = new FetchedParts($database, $crawl);
        $this->robots = new RobotsRules(PlainVisit::USER_AGENT);
        $this->jar = new CookieJar();
        $this->begun = microtime(true);
    }

    public function isOf(int $crawl): bool
    {
        return $this->crawl === $crawl && microtime(true) - $this->begun < self::AGE;
    }

    public function isNew(string $link): bool
    {
        return !isset($this->seen[$link]);
    }

    public function note(string $link): void
    {
        if (\count($this->seen) >= self::MOST) {
            $this->seen = [];
        }
        $this->seen[$link] = true;
    }
}
