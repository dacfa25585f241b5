<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Value\Aftermath;
use Ypomna\App\Shared\Viewer;

/** Tells what became of the page that an item is about: captured again, changed, vanished. */
final readonly class Aftermaths
{
    private const GONE = [404, 410];

    public function __construct(private CaptureRepository $captures, private CaptureLists $lists)
    {
    }

    /** Null if the capture is not seen. */
    public function of(Viewer $viewer, string $code): ?Aftermath
    {
        $capture = $this->captures->byCode($viewer, $code);
        if (null === $capture) {
            return null;
        }
        $alive = $this->captures->lastAlive($viewer, $capture->address);
        $last = $this->captures->last($viewer, $capture->address);
        $again = null !== $alive && $alive->capturedAt > $capture->capturedAt ? $alive : null;

        return new Aftermath(
            $again,
            null !== $again && $this->lists->changedSince($viewer, $capture),
            null !== $last && $last->capturedAt >= $capture->capturedAt && \in_array($last->status, self::GONE, true) ? $last : null,
        );
    }
}
