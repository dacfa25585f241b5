<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Psr\Clock\ClockInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;

/** Spoken notes: each is an item that waits in the intake, or lies under another one, with a recording that comes piece by piece. */
final readonly class SpokenNotes
{
    public const TYPES = ['audio/webm', 'audio/ogg', 'audio/mp4'];

    public function __construct(
        private Items $items,
        private Attachments $attachments,
        private TranslatorInterface $translator,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string $type one of TYPES
     * @param string|null $title null: after the moment
     *
     * @return array{Attachment, Item}
     *
     * @throws CannotChange|WrongValue|Circle
     */
    public function begin(Actor $actor, Viewer $viewer, ?Item $parent, string $type, ?string $title = null): array
    {
        $title ??= $this->translator->trans('desk.spoken_note_of_moment', ['moment' => $this->clock->now()->format('Y-m-d H:i').' UTC']);
        $item = $this->items->make(
            $actor, $viewer, ItemKind::Recording, new ItemSubject(),
            new ItemChange($title, parent: null === $parent ? false : $parent->code),
        );

        return [$this->attachments->begin($actor, $item, $title.'.'.substr($type, 6), $type), $item];
    }
}
