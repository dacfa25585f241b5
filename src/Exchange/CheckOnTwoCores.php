<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Shared\SideProcess;
use Ypomna\Core\Warc\WarcCheck;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcFinding;
use Ypomna\Core\Warc\WarcFindingCode;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Core\Warc\WarcReport;

/**
 * Checks a large file of gzip members from both ends at once: this process from the front, another from the back, part by
 * part, until they meet. What they find is what one would have found that read through; where the parts do not join, one does.
 */
final class CheckOnTwoCores
{
    /** Packed bytes of a part. */
    private const PART = 8_388_608;

    private function __construct(private readonly string $path, private readonly int $part)
    {
    }

    /**
     * @param int $part bytes; shorter files are read through
     *
     * @throws WarcError if the file cannot be opened
     */
    public static function run(string $path, int $part = self::PART): WarcReport
    {
        $packed = "\x1f\x8b" === @file_get_contents($path, false, null, 0, 2);

        return ($packed && filesize($path) > 2 * $part ? (new self($path, $part))->fromBothEnds() : null) ?? WarcCheck::run($path);
    }

    /** @return WarcReport|null null if the parts do not join, or there is only one process */
    private function fromBothEnds(): ?WarcReport
    {
        $parts = intdiv((int) filesize($this->path), $this->part) + 1;
        $other = SideProcess::start(function (\Closure $say) use ($parts): void {
            for ($n = $parts - 1; $n > 0; --$n) {
                $say((string) $n);
                $say(serialize($this->part($n)));
            }
        });
        if (null === $other) {
            return null;
        }
        $begun = $parts;
        $theirs = [];
        $whole = null;
        for ($n = 0; $n < $parts; ++$n) {
            // What the other says is heard as it comes; the part at which both meet is waited for.
            while (!\array_key_exists($n, $theirs) && ($begun <= $n || $other->hasSpoken()) && null !== ($said = $other->next())) {
                if (ctype_digit($said)) {
                    $begun = (int) $said;
                } else {
                    $theirs[$begun] = self::report($said);
                }
            }
            $report = \array_key_exists($n, $theirs) ? $theirs[$n] : $this->part($n);
            if (null === $report) {
                return null;
            }
            $whole = $whole?->and($report) ?? $report;
        }

        return $whole;
    }

    /** @return WarcReport|null null if it does not end where the next one begins */
    private function part(int $n): ?WarcReport
    {
        $from = $this->beginning($n);
        $until = $this->beginning($n + 1);
        if (null === $from || $from === $until) {
            return new WarcReport(0, 0, 0, 0, 0, []);
        }
        $report = WarcCheck::part(WarcReader::open($this->path, $from), $until);
        foreach ($report->findings as $finding) {
            if (WarcFindingCode::NotWarc === $finding->code) {
                return null;
            }
        }

        return $report->next === $until ? $report : null;
    }

    private function beginning(int $part): ?int
    {
        return 0 === $part ? 0 : WarcReader::beginning($this->path, $part * $this->part);
    }

    private static function report(string $said): ?WarcReport
    {
        $report = unserialize($said, ['allowed_classes' => [WarcReport::class, WarcFinding::class, WarcFindingCode::class]]);

        return $report instanceof WarcReport ? $report : null;
    }
}
