<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\ItemGroup;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Viewer;

/** Everything under a tag, and under those that stand under it, by the dossiers in which it lies. */
final readonly class TagReport
{
    public const MOST = 5_000;

    public function __construct(private Tags $tags, private ItemRepository $items)
    {
    }

    /** @return list<ItemGroup> by name of the dossier; what lies in none that is seen comes last */
    public function of(Viewer $viewer, Tag $tag): array
    {
        /** @var array<string, Dossier> $dossiers */
        $dossiers = [];
        /** @var array<string, list<ShownItem>> $groups */
        $groups = [];
        $all = $this->items->shown($viewer, $this->items->tagged($viewer, $this->tags->below([$tag->id]), self::MOST));
        usort($all, static fn (ShownItem $a, ShownItem $b): int => [$a->name(), $a->capture?->capturedAt, $a->item->id()]
            <=> [$b->name(), $b->capture?->capturedAt, $b->item->id()]);
        foreach ($all as $shown) {
            foreach ($shown->dossiers as $dossier) {
                $dossiers[$dossier->code] = $dossier;
                $groups[$dossier->code][] = $shown;
            }
            if ([] === $shown->dossiers) {
                $groups[''][] = $shown;
            }
        }
        uasort($dossiers, static fn (Dossier $a, Dossier $b): int => [$a->name, $a->id()] <=> [$b->name, $b->id()]);
        $report = array_values(array_map(
            static fn (Dossier $dossier): ItemGroup => new ItemGroup($dossier, $groups[$dossier->code] ?? []), $dossiers,
        ));

        return [] === ($groups[''] ?? []) ? $report : [...$report, new ItemGroup(null, $groups[''])];
    }
}
