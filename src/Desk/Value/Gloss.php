<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\Core\Annotation\Place;
use Ypomna\Core\Annotation\Placement;

/** A note beside the passage that it is about, as that stands on a capture. */
final readonly class Gloss
{
    /** @param CaptureFacts|null $from the capture that it was written beside; null if it is this one */
    public function __construct(public ItemLink $link, public Placement $placed, public ?CaptureFacts $from)
    {
    }

    public function isThere(): bool
    {
        return null !== $this->placed->text && Place::Gone !== $this->placed->place;
    }

    /** What is looked for in the page; '' if it is not there. */
    public function text(): string
    {
        return $this->isThere() ? (string) $this->placed->text : '';
    }
}
