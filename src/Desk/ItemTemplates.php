<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Todos;

/**
 * Another item after one that exists: its summary, note, tags, fields and files, and the items under it. What it is about,
 * its due day and what
 * is ticked off belong to the one alone.
 */
final readonly class ItemTemplates
{
    public const MOST = 500;

    public function __construct(
        private Items $items,
        private ItemRepository $found,
        private DossierRepository $dossiers,
        private Attachments $attachments,
    ) {
    }

    /**
     * @param string $title of the new one; what is under it is called as it is
     *
     * @throws CannotChange|WrongValue|Circle
     */
    public function copy(Actor $actor, Viewer $viewer, Item $item, string $title): Item
    {
        $shown = $this->found->shown($viewer, [$item])[0];
        $into = array_values(array_map(static fn (Dossier $one): string => $one->code, array_filter(
            $shown->dossiers, fn (Dossier $one): bool => $this->dossiers->may($viewer, $one, Part::Writer),
        )));
        $above = null !== $shown->parent && $this->found->mayChange($viewer, $shown->parent) ? $shown->parent->code : false;
        $left = self::MOST;

        return $this->one($actor, $viewer, $item, new ItemChange($title, addDossiers: $into, parent: $above), $shown->tags, $left);
    }

    /**
     * @param list<string> $tags
     *
     * @throws CannotChange|WrongValue|Circle
     */
    private function one(Actor $actor, Viewer $viewer, Item $item, ItemChange $where, array $tags, int &$left): Item
    {
        $copy = $this->items->make($actor, $viewer, ItemKind::Note, new ItemSubject(), new ItemChange(
            $where->title, $item->summary, Todos::unticked($item->note), important: $item->important, confidential: $item->confidential,
            tags: $tags, addDossiers: $where->addDossiers, parent: $where->parent, fields: $item->fields,
        ));
        $this->attachments->copy($actor, $item, $copy);
        $under = $left <= 0 ? [] : $this->found->list($viewer, new ItemQuery(
            parent: $item->code, order: ItemOrder::Hand, most: $left,
        ));
        $left -= \count($under);
        foreach ($this->found->shown($viewer, $under) as $shown) {
            $this->one($actor, $viewer, $shown->item, new ItemChange($shown->item->title, parent: $copy->code), $shown->tags, $left);
        }

        return $copy;
    }
}
