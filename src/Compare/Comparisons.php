<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\Value\ComparedCaptures;
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\Noise\Patience;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\Weighing;
use Ypomna\Core\Warc\WarcError;

/** Compares captures, weighed by the rules of their page. */
final readonly class Comparisons
{
    public function __construct(
        private CaptureContent $content,
        private PictureDigests $pictures,
        private NoiseSettings $noise,
        private LifelineRepository $lifelines,
    ) {
    }

    /**
     * @throws WarcError if one of them cannot be read
     */
    public function between(Capture $old, Capture $new): ComparedCaptures
    {
        $before = $this->content->document($old);
        $after = $this->content->document($new);
        $comparison = PageComparison::of($before, $after, $this->pictures->of($old, $before), $this->pictures->of($new, $after));

        return new ComparedCaptures(
            $old, $new, $before, $after, new ComparisonReport($comparison, $before, $after, $this->weighing($new->address), false),
        );
    }

    public function weighing(Address $address, Patience $patience = new Patience()): Weighing
    {
        return new Weighing($this->noise->rules($address, $patience), $this->lifelines->habits($address));
    }
}
