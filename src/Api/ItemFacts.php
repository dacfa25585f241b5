<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Desk\Value\UsedTag;
use Ypomna\App\Shared\Viewer;

/** What programs are told of items, links and tags. */
final readonly class ItemFacts
{
    public function __construct(private ItemRepository $items)
    {
    }

    /** @return array<string, mixed> */
    public function of(Viewer $viewer, Item $item): array
    {
        return self::told($this->items->shown($viewer, [$item])[0]);
    }

    /**
     * @param list<Item> $items
     *
     * @return list<array<string, mixed>>
     */
    public function ofAll(Viewer $viewer, array $items): array
    {
        return array_map(self::told(...), $this->items->shown($viewer, $items));
    }

    /** @return array<string, mixed> */
    public static function link(ItemLink $link): array
    {
        return [
            'code' => $link->code, 'from' => $link->from->code, 'to' => $link->to->code ?? $link->toCapture, 'passage' => $link->passage,
            'remark' => $link->remark, 'createdAt' => Answers::moment($link->createdAt), 'createdBy' => $link->createdBy,
            'etag' => $link->etag(),
        ];
    }

    /** @return array<string, mixed> */
    public static function tag(UsedTag $one): array
    {
        return [
            'name' => $one->tag->name, 'kind' => $one->tag->kind->value, 'parent' => $one->parent?->name, 'count' => $one->items,
            'etag' => $one->tag->etag(),
        ];
    }

    /** @return array<string, mixed> */
    public static function told(ShownItem $shown): array
    {
        $item = $shown->item;

        return [
            'code' => $item->code, 'kind' => $item->kind->value, 'title' => $item->title, 'summary' => $item->summary,
            'subject' => (object) array_filter(
                ['capture' => $shown->capture?->code, 'url' => self::url($shown), 'sha256' => $item->sha256],
                static fn (?string $one): bool => null !== $one,
            ),
            'note' => $item->note, 'tags' => $shown->tags,
            'fields' => (object) array_map(static fn (mixed $value): mixed => \is_array($value) ? (object) $value : $value, $item->fields),
            'due' => $item->due?->format('Y-m-d'), 'dueFor' => $item->dueFor?->value, 'important' => $item->important,
            'confidential' => $item->confidential, 'sorted' => $item->sorted,
            'dossiers' => array_map(static fn (Dossier $one): string => $one->code, $shown->dossiers),
            'parent' => $shown->parent?->code, 'createdAt' => Answers::moment($item->createdAt), 'createdBy' => $item->createdBy,
            'changedAt' => Answers::moment($item->changedAt), 'etag' => $item->etag(),
        ];
    }

    /** Whoever does not see the capture is not told where it was made. */
    private static function url(ShownItem $shown): ?string
    {
        return null !== $shown->item->captureCode && null === $shown->capture ? null : $shown->item->url;
    }
}
