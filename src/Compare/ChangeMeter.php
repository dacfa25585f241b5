<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\Noise\Patience;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Warc\WarcError;

/** Measures how much a capture differs from the one before it: the thickness of its layer in the column. */
final readonly class ChangeMeter
{
    public function __construct(private CaptureMaintenance $captures, private CaptureContent $content, private Comparisons $comparisons)
    {
    }

    /** Measures that capture and the one behind it, whose predecessor it may have become. */
    public function measure(int $captureId, Patience $patience = new Patience()): void
    {
        $capture = $this->captures->capture($captureId);
        if (null === $capture) {
            return;
        }
        [$before, $after] = $this->captures->around($capture);
        $this->store($capture, $before, $patience);
        if (null !== $after) {
            $this->store($after, $capture, $patience);
        }
    }

    private function store(Capture $capture, ?Capture $before, Patience $patience): void
    {
        $this->captures->changed((int) $capture->id, null === $before ? null : $this->difference($before, $capture, $patience));
    }

    /** Share of the text that differs, 0 to 1, noise aside; null where one of them cannot be read. */
    public function difference(Capture $before, Capture $after, Patience $patience = new Patience()): ?float
    {
        if ($before->isAlive() !== $after->isAlive()) {
            return 1.0;
        }
        if (null !== $after->payloadSha256 && $before->payloadSha256 === $after->payloadSha256 && null === $after->domOffset) {
            return 0.0;
        }
        try {
            return round($this->share($before, $after, $patience), 6);
        } catch (WarcError) {
            return null;
        }
    }

    private function share(Capture $before, Capture $after, Patience $patience): float
    {
        $old = $this->content->document($before);
        $new = $this->content->document($after);

        return (new ComparisonReport(PageComparison::of($old, $new), $old, $new, $this->comparisons->weighing($after->address, $patience)))
            ->changedShare();
    }
}
