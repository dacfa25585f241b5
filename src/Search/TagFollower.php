<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Desk\Event\TagChanged;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Search\Message\FollowTag;
use Ypomna\App\Search\Message\IndexCapture;
use Ypomna\App\Search\Message\IndexItem;

/** What has a tag that is called otherwise now is taken into the index again, portion by portion. */
final readonly class TagFollower
{
    private const PORTION = 100;

    public function __construct(
        private ItemTags $tags,
        private CaptureDescriptions $descriptions,
        private Texts $texts,
        private MessageBusInterface $bus,
    ) {
    }

    #[AsEventListener]
    public function onTagChanged(TagChanged $event): void
    {
        $this->bus->dispatch(new FollowTag($event->tag));
    }

    #[AsMessageHandler]
    public function follow(FollowTag $message): void
    {
        $items = $this->tags->itemsWith($message->tag, $message->item, self::PORTION);
        foreach ($items as $item) {
            $this->bus->dispatch(new IndexItem($item));
        }
        $captures = $this->descriptions->with($message->tag, $message->description, self::PORTION);
        foreach ($captures as $code) {
            $this->texts->due($code);
            $this->bus->dispatch(new IndexCapture($code));
        }
        if ([] !== $items || [] !== $captures) {
            $this->bus->dispatch(new FollowTag(
                $message->tag, max([$message->item, ...$items]), max([$message->description, ...array_keys($captures)]),
            ));
        }
    }
}
