<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\Event\CopyArrived;
use Ypomna\App\Shared\Actor;

/** What was said of a file when it was handed in is done once it is taken in: its captures are described, and laid where they belong. */
final readonly class ArrivalWork
{
    /** Captures of one file that are laid into a dossier. */
    private const MOST = 2_000;

    public function __construct(
        private CaptureMaintenance $captures,
        private CaptureDescriptions $descriptions,
        private EventDispatcherInterface $events,
    ) {
    }

    public function done(Arrival $arrival, int $file): void
    {
        $said = $arrival->said();
        $pages = $this->captures->pagesOf($file, self::MOST);
        if ([] === $pages) {
            return;
        }
        $arrival->captureCode = 1 === \count($pages) ? $pages[0] : null;
        $description = new CaptureDescription($said->title, $said->why, $said->tags);
        if ('' !== $said->title.$said->why || [] !== $said->tags) {
            $this->descriptions->writeOf(new Actor($arrival->person), $pages[0], $description, $arrival->limited);
        }
        if (null !== $said->with && null !== $arrival->captureCode) {
            $copy = new CopyArrived($arrival->person, $said->with, $arrival->captureCode);
            $this->events->dispatch($copy);
            if ($copy->isTaken) {
                return;
            }
        }
        if (null === $said->dossier) {
            $this->events->dispatch(new BroughtIn(
                $arrival->person, 'file:'.$arrival->code, '' === $said->title ? $arrival->name : $said->title, $said->why, $said->tags,
                $arrival->captureCode, null, $arrival->sha256, $arrival->limited, self::day($said->due),
            ));
        }
        foreach (null === $said->dossier ? [] : $pages as $code) {
            $this->events->dispatch(new CaptureEnded($arrival->code, $code, null, $said->dossier, $arrival->person, self::day($said->due)));
        }
    }

    private static function day(?string $day): ?\DateTimeImmutable
    {
        $moment = null === $day ? false : \DateTimeImmutable::createFromFormat('!Y-m-d', $day, new \DateTimeZone('UTC'));

        return false === $moment ? null : $moment;
    }
}
