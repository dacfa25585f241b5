<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\MergedNote;
use Ypomna\Core\Desk\NoteMerge;

/** Saves a note that somebody else may have changed since it was opened: what both did is put together, or left for them to decide. */
final readonly class NoteWriting
{
    private const TRIES = 5;

    public function __construct(private EntityManagerInterface $entities, private Items $items)
    {
    }

    /**
     * @param string $base what whoever writes began with
     *
     * @return array{MergedNote, string} what became of it, and what undoes that; an undecided one is not saved
     *
     * @throws SomebodyWasFaster if it is changed all the time
     */
    public function save(Actor $actor, Viewer $viewer, Item $item, string $base, string $mine): array
    {
        for ($try = 1;; ++$try) {
            $merged = NoteMerge::of($base, $mine, $item->note);
            $note = $merged->text();
            if (null === $note || $note === $item->note) {
                return [$merged, ''];
            }
            try {
                return [$merged, $this->items->change($actor, $viewer, [$item], new ItemChange(note: $note))[1]];
            } catch (SomebodyWasFaster $e) {
                $this->entities->refresh($item);
                if (self::TRIES === $try || null !== $item->deletedAt) {
                    throw $e;
                }
            }
        }
    }
}
