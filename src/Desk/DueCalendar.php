<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Psr\Clock\ClockInterface;
use Sabre\VObject\Component\VCalendar;
use Sabre\VObject\ElementList;
use Sabre\VObject\Node;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Viewer;

/** What somebody made that is due, as days of a calendar (iCalendar, RFC 5545). */
final readonly class DueCalendar
{
    private const MOST = 2_000;

    public function __construct(
        private ItemRepository $items,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
        private ClockInterface $clock,
    ) {
    }

    public function of(Viewer $viewer): string
    {
        foreach ([Node::class, ElementList::class] as $class) {
            // They are declared as before PHP 8.1, which is told when they are loaded, and does no harm.
            @class_exists($class);
        }
        $calendar = new VCalendar(['PRODID' => '-//Ypomna//Desk//EN', 'VERSION' => '2.0', 'METHOD' => 'PUBLISH']);
        $calendar->add('X-WR-CALNAME', $this->translator->trans('desk.due_at_the_desk'));
        $items = null === $viewer->name ? [] : $this->items->list($viewer, new ItemQuery(
            dueBefore: $this->clock->now()->modify('+10 years'), by: $viewer->name, order: ItemOrder::Due, most: self::MOST,
        ));
        foreach ($this->items->shown($viewer, $items) as $shown) {
            $item = $shown->item;
            if (null === $item->due) {
                continue;
            }
            $event = $calendar->createComponent('VEVENT', [
                'UID' => $item->code.'@'.parse_url($this->urls->generate('first', [], UrlGeneratorInterface::ABSOLUTE_URL), \PHP_URL_HOST),
                'SUMMARY' => $this->summary($shown),
                'DTSTAMP' => $item->changedAt, 'LAST-MODIFIED' => $item->changedAt,
                'URL' => $this->urls->generate('item', ['code' => $item->code], UrlGeneratorInterface::ABSOLUTE_URL),
                'TRANSP' => 'TRANSPARENT',
            ]);
            $event->add('DTSTART', $item->due->format('Ymd'), ['VALUE' => 'DATE']);
            $event->add('DTEND', $item->due->modify('+1 day')->format('Ymd'), ['VALUE' => 'DATE']);
            if ('' !== $item->summary) {
                $event->add('DESCRIPTION', $item->summary);
            }
            $calendar->add($event);
        }

        return $calendar->serialize();
    }

    private function summary(ShownItem $shown): string
    {
        $name = $shown->name();
        $name = '' === $name ? $this->translator->trans('desk.without_a_title') : $name;

        return match ($shown->item->dueFor) {
            DueFor::Read => $this->translator->trans('desk.read_name', ['name' => $name]),
            DueFor::FollowUp => $this->translator->trans('desk.follow_up_name', ['name' => $name]),
            DueFor::Capture => $this->translator->trans('desk.capture_name_again', ['name' => $name]),
            null => $name,
        };
    }
}
