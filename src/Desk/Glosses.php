<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\Value\Gloss;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Annotation\Mark;
use Ypomna\Core\Annotation\Placing;
use Ypomna\Core\Annotation\Quote;
use Ypomna\Core\Page\Document;

/**
 * Notes beside the page: links from a note to a passage of a capture. On other captures of the same address they stand where their
 * passage stands now, or say that it is reworded or gone.
 */
final readonly class Glosses
{
    private const MOST = 300;
    /** Captures on which those were written that are shown on one. */
    private const MOST_SOURCES = 20;

    public function __construct(
        private ItemLinks $links,
        private ItemRepository $items,
        private Items $changes,
        private CaptureRepository $captures,
        private CaptureLists $lists,
        private CaptureContent $content,
    ) {
    }

    /** @return list<Gloss> in the order of the page; those whose passage is gone come last */
    public function of(Viewer $viewer, Capture $capture): array
    {
        $bySource = [];
        foreach ($this->links->ofAddress($viewer, $capture->address->code, self::MOST) as $link) {
            $bySource[(string) $link->toCapture][] = $link;
        }
        $page = [] === $bySource ? null : $this->content->document($capture);
        $facts = $this->lists->facts($viewer, array_map(strval(...), array_keys($bySource)));
        $glosses = [];
        foreach (\array_slice($bySource, 0, self::MOST_SOURCES, true) as $source => $links) {
            $old = $source === $capture->code ? $page : $this->document($viewer, (string) $source);
            if (null === $page || null === $old) {
                continue;
            }
            foreach (Placing::all(array_map(self::mark(...), $links), $page, $old) as $n => $placed) {
                $glosses[] = new Gloss($links[$n], $placed, $source === $capture->code ? null : $facts[$source] ?? null);
            }
        }
        usort($glosses, static fn (Gloss $a, Gloss $b): int => [$a->placed->start ?? \PHP_INT_MAX, $a->link->id]
            <=> [$b->placed->start ?? \PHP_INT_MAX, $b->link->id]);

        return $glosses;
    }

    /**
     * The note lies under an item of that capture, if there is one that its writer may change; so who works with that sees it.
     *
     * @param array{exact: string, prefix?: string, suffix?: string} $passage
     *
     * @throws WrongValue|Circle
     */
    public function write(Actor $actor, Viewer $viewer, Capture $capture, array $passage, string $note): ItemLink
    {
        $above = null;
        foreach ($this->items->ofCapture($viewer, $capture->code) as $item) {
            $above ??= $this->items->mayChange($viewer, $item) ? $item : null;
        }
        $title = mb_strimwidth(trim((string) preg_replace('/\s+/u', ' ', $passage['exact'])), 0, 80, '…');
        $item = $this->changes->make($actor, $viewer, ItemKind::Note, new ItemSubject(), new ItemChange(
            '“'.$title.'”', note: mb_substr($note, 0, Item::LONGEST_NOTE), sorted: true, parent: $above->code ?? false,
        ));

        return $this->links->make($actor, $viewer, $item, $capture->code, $passage, null);
    }

    private static function mark(ItemLink $link): Mark
    {
        $passage = $link->passage ?? ['exact' => ''];

        return new Mark($link->code, new Quote($passage['exact'], $passage['prefix'] ?? '', $passage['suffix'] ?? ''));
    }

    private function document(Viewer $viewer, string $code): ?Document
    {
        $capture = $this->captures->byCode($viewer, $code);

        return null === $capture ? null : $this->content->document($capture);
    }
}
