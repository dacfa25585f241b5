<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Shared\Viewer;

/** What lies where somebody looks: in a dossier and those below it, or with an item and those under it. */
final readonly class SearchPlaces
{
    private const PAGE = 500;

    public function __construct(private DossierRepository $dossiers, private ItemRepository $items, private Stands $stands)
    {
    }

    /** Whether there is such a place, and whoever asks sees it. */
    public function isThere(Viewer $viewer, SearchWish $wish): bool
    {
        return (null === $wish->dossier || null !== $this->dossiers->byCode($viewer, $wish->dossier))
            && (null === $wish->item || null !== $this->items->byCode($viewer, $wish->item));
    }

    /** @return array<string, true>|null kinds and numbers of what lies there; null if all is looked through */
    public function of(Viewer $viewer, SearchWish $wish): ?array
    {
        if (null === $wish->dossier && null === $wish->item) {
            return null;
        }
        if (!$this->isThere($viewer, $wish)) {
            return [];
        }
        $found = [];
        $item = null === $wish->item ? null : $this->items->byCode($viewer, $wish->item);
        if (null !== $item) {
            $found += $this->here($viewer, [$item]);
        }
        foreach ($this->items->pages($viewer, new ItemQuery(within: $wish->dossier, parent: $wish->item, most: self::PAGE)) as $items) {
            $found += $this->here($viewer, $items);
        }

        return $found;
    }

    /**
     * @param list<Item> $items
     *
     * @return array<string, true>
     */
    private function here(Viewer $viewer, array $items): array
    {
        $found = [];
        foreach ($items as $item) {
            foreach (Kind::OF_ITEMS as $kind) {
                $found[$kind.'.'.$item->id()] = true;
            }
        }
        foreach ($this->stands->addresses($viewer, array_values(array_filter(
            array_map(static fn (Item $item): ?string => $item->captureCode, $items), static fn (?string $code): bool => null !== $code,
        ))) as $address) {
            $found[Kind::Page->value.'.'.$address] = true;
        }

        return $found;
    }
}
