<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Links between items, and from items to captures and passages of them. One is seen by whoever sees both its ends. */
final readonly class ItemLinks
{
    private const MOST = 1_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private ItemRepository $items,
        private CaptureLists $captures,
        private CaptureRepository $holdings,
        private Journal $journal,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string $to code of an item or a capture
     * @param array{exact: string, prefix?: string, suffix?: string}|null $passage
     *
     * @throws WrongValue
     */
    public function make(Actor $actor, Viewer $viewer, Item $from, string $to, ?array $passage, ?string $remark): ItemLink
    {
        $item = $this->items->byCode($viewer, $to);
        $capture = null === $item ? $this->holdings->byCode($viewer, $to) : null;
        if (null === $item && null === $capture) {
            throw new WrongValue('/to', 'There is no such item or capture.');
        }
        $link = new ItemLink(
            Codes::random(), $from, $item, $capture?->code, $capture?->address->code, $passage, $remark, $actor->name, $this->clock->now(),
        );
        $this->entities->persist($link);
        $this->entities->flush();
        $this->journal->item($actor, $from, ActKind::Linked, null === $item ? [] : ['item' => $item->code]);

        return $link;
    }

    public function byCode(Viewer $viewer, string $code): ?ItemLink
    {
        $link = $this->entities->getRepository(ItemLink::class)->findOneBy(['code' => $code, 'deletedAt' => null]);

        return null === $link ? null : $this->seen($viewer, [$link])[0] ?? null;
    }

    /** One that was taken away and can still be brought back. */
    public function deleted(Viewer $viewer, string $code, \DateTimeImmutable $since): ?ItemLink
    {
        $link = $this->entities->getRepository(ItemLink::class)->findOneBy(['code' => $code]);

        return null !== $link && null !== $link->deletedAt && $link->deletedAt >= $since ? $this->seen($viewer, [$link])[0] ?? null : null;
    }

    /** @return list<ItemLink> that lead from an item, the first one first */
    public function from(Viewer $viewer, Item $item): array
    {
        return $this->seen($viewer, $this->entities->getRepository(ItemLink::class)->findBy(
            ['from' => $item, 'deletedAt' => null], ['id' => 'ASC'], self::MOST,
        ));
    }

    /** @return list<ItemLink> that lead to an item, or to the capture that it is about */
    public function to(Viewer $viewer, Item $item): array
    {
        $query = $this->entities->createQuery(
            'SELECT l FROM '.ItemLink::class.' l WHERE l.deletedAt IS NULL AND (l.to = :item OR l.toCapture = :capture) ORDER BY l.id',
        )->setParameter('item', $item->id())->setParameter('capture', $item->captureCode ?? '')->setMaxResults(self::MOST);
        /** @var list<ItemLink> $found */
        $found = $query->getResult();

        return $this->seen($viewer, $found);
    }

    /**
     * Links to passages of captures of an address.
     *
     * @return list<ItemLink> the first one first
     */
    public function ofAddress(Viewer $viewer, string $address, int $most): array
    {
        return array_values(array_filter(
            $this->seen($viewer, $this->entities->getRepository(ItemLink::class)->findBy(
                ['toAddress' => $address, 'deletedAt' => null], ['id' => 'ASC'], $most,
            )),
            static fn (ItemLink $link): bool => null !== $link->passage,
        ));
    }

    public function delete(Actor $actor, ItemLink $link): void
    {
        $link->deletedAt = $this->clock->now();
        $this->entities->flush();
        $this->journal->item($actor, $link->from, ActKind::Unlinked, null === $link->to ? [] : ['item' => $link->to->code]);
    }

    public function restore(Actor $actor, ItemLink $link): void
    {
        $link->deletedAt = null;
        $this->entities->flush();
        $this->journal->item($actor, $link->from, ActKind::Linked, null === $link->to ? [] : ['item' => $link->to->code]);
    }

    /**
     * @param list<ItemLink> $links
     *
     * @return list<ItemLink>
     */
    private function seen(Viewer $viewer, array $links): array
    {
        $items = $captures = [];
        foreach ($links as $link) {
            $items[] = $link->from->code;
            if (null !== $link->to) {
                $items[] = $link->to->code;
            }
            if (null !== $link->toCapture) {
                $captures[] = $link->toCapture;
            }
        }
        $seen = array_flip(array_map(static fn (Item $item): string => $item->code,
            $this->items->byCodes($viewer, array_values(array_unique($items)))));
        $held = $this->captures->facts($viewer, $captures);

        return array_values(array_filter($links, static fn (ItemLink $link): bool => isset($seen[$link->from->code])
            && (null === $link->to || isset($seen[$link->to->code])) && (null === $link->toCapture || isset($held[$link->toCapture]))));
    }
}
