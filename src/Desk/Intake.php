<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Event\CaptureDescribed;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Exchange\Event\CopyArrived;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Viewer;

/** Where what a person brought in waits until they say where it goes: one item an act. */
final readonly class Intake
{
    public function __construct(
        private Items $items,
        private ItemRepository $found,
        private CaptureItems $captures,
        private AlwaysTags $always,
        private KnownPeople $people,
        private ItemLinks $links,
        private CaptureLists $lists,
        private TranslatorInterface $translator,
    ) {
    }

    #[AsEventListener]
    public function onBroughtIn(BroughtIn $event): void
    {
        if (null === $this->people->viewer($event->person)->name || null !== $this->found->cameBy(Viewer::system(), $event->origin)) {
            return;
        }
        $actor = new Actor($event->person);
        $wish = new ItemChange(
            mb_substr($event->title, 0, Item::LONGEST_TITLE), mb_substr($event->why, 0, Item::LONGEST_SUMMARY), due: $event->due ?? false,
            confidential: $event->confidential, tags: $event->tags, addTags: $this->always->of($event->person),
        );
        if (null !== $event->capture) {
            $this->captures->make($actor, $event->capture, new ItemChange(due: $event->due ?? false), $event->origin);

            return;
        }
        $this->items->make(
            $actor, Viewer::system(),
            null !== $event->url ? ItemKind::Address : (null !== $event->sha256 ? ItemKind::File : ItemKind::Note),
            new ItemSubject(null, $event->url, $event->sha256), $wish, $event->origin,
        );
    }

    /** A witness's copy lies where the capture of the same act lies: one act, one item. */
    #[AsEventListener]
    public function onCopyArrived(CopyArrived $event): void
    {
        $viewer = $this->people->viewer($event->person);
        $item = null === $viewer->name ? null : $this->found->cameBy($viewer, 'job:'.$event->job);
        $own = $item?->captureCode;
        if (null === $item || !$this->found->mayChange($viewer, $item) || $own === $event->capture) {
            return;
        }
        $actor = new Actor($event->person);
        try {
            $led = $this->elsewhere($viewer, $item, $event->capture);
            if (null !== $led) {
                $this->items->change($actor, $viewer, [$item], $led);
            }
            [$to, $words] = null === $led || null === $own
                ? [$event->capture, $this->translator->trans('desk.as_seen_in_the_browser')]
                : [$own, $this->translator->trans('desk.as_the_server_saw_it')];
            $this->links->make($actor, $viewer, $item, $to, null, $words);
            $event->isTaken = true;
        } catch (WrongValue) {
            // It is brought in by itself.
        } catch (SomebodyWasFaster) {
            // Whoever works with it already knows what it is.
        }
    }

    /** Where the server was led elsewhere, as to a sign-in,
     * the item is about what was seen: the copy is its subject. Null if it was not. */
    private function elsewhere(Viewer $viewer, Item $item, string $copy): ?ItemChange
    {
        if (null === $item->captureCode) {
            return null;
        }
        $facts = $this->lists->facts($viewer, [$copy, $item->captureCode]);
        $own = $facts[$item->captureCode] ?? null;
        $seen = $facts[$copy] ?? null;
        if (null === $own || null === $seen || AddressKeys::urlHash($own->url) === AddressKeys::urlHash($seen->url)) {
            return null;
        }
        $isNamed = \in_array($item->title, ['', (string) $own->title], true) && '' !== (string) $seen->title;

        return new ItemChange($isNamed ? mb_substr((string) $seen->title, 0, Item::LONGEST_TITLE) : null,
            subject: new ItemSubject($copy, $seen->url));
    }

    /** What is written beside a capture while its item still waits is written to that, too. */
    #[AsEventListener]
    public function onCaptureDescribed(CaptureDescribed $event): void
    {
        $waiting = $this->found->list(Viewer::system(), new ItemQuery(
            sorted: false, capture: $event->capture, by: $event->by->name, order: ItemOrder::Oldest, most: 1,
        ));
        $said = $event->description;
        foreach ($waiting as $item) {
            $this->items->change($event->by, Viewer::system(), [$item], new ItemChange(
                '' === $said->title ? null : mb_substr($said->title, 0, Item::LONGEST_TITLE),
                mb_substr($said->why, 0, Item::LONGEST_SUMMARY), tags: $said->tags,
            ));
        }
    }

    /**
     * What waits, the oldest first.
     *
     * @param int $after number of the item that was looked at last
     *
     * @return list<Item>
     */
    public function waiting(Viewer $viewer, int $after = 0, int $most = 1): array
    {
        return null === $viewer->name ? [] : $this->found->list($viewer, new ItemQuery(
            sorted: false, by: $viewer->name, order: ItemOrder::Oldest, after: ['', $after], most: $most,
        ));
    }
}
