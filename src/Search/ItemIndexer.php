<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\TransportNamesStamp;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Event\ItemTouched;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Search\Message\IndexItem;
use Ypomna\App\Search\Message\IndexItems;
use Ypomna\App\Search\Message\ReadItemFiles;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Piece;
use Ypomna\Core\Search\Tongue;
use Ypomna\Core\Search\Writing;
use Ypomna\Core\Split;

/** Takes what people wrote on the desk into the index of words. */
final readonly class ItemIndexer
{
    private const PORTION = 100;

    public function __construct(
        private Texts $texts,
        private IndexEntries $entries,
        private Engine $engine,
        private ItemRepository $items,
        private Attachments $attachments,
        private Readings $readings,
        private ReadingIndexer $reading,
        private CaptureLists $captures,
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
    ) {
    }

    #[AsEventListener]
    public function onItemTouched(ItemTouched $event): void
    {
        $this->bus->dispatch(new IndexItem($event->item));
    }

    #[AsMessageHandler]
    public function indexItem(IndexItem $message): void
    {
        $item = $this->items->byNumbers(Viewer::system(), [$message->item])[$message->item] ?? null;
        if (null === $item) {
            $this->texts->dropItem($message->item);
        } else {
            $this->take([$item]);
        }
        $this->flush();
    }

    #[AsMessageHandler]
    public function indexItems(IndexItems $message): void
    {
        $behind = $this->portion($message->behind);
        if (null !== $behind) {
            $this->bus->dispatch(new IndexItems($behind));
        }
    }

    /**
     * @param bool $read whether their files are read at once, not by a worker
     *
     * @return int|null where it goes on; null at the end
     */
    public function portion(int $behind, bool $read = false): ?int
    {
        $items = $this->items->behind(Viewer::system(), $behind, self::PORTION);
        foreach ($read ? $items : [] as $item) {
            $this->reading->files($item->id());
        }
        $this->take($items);
        $this->flush();

        return [] === $items ? null : $items[\count($items) - 1]->id();
    }

    private function flush(): void
    {
        while ($this->engine->isThere() && $this->entries->fill()) {
            continue;
        }
        $this->entities->clear();
    }

    /** @param list<Item> $items */
    private function take(array $items): void
    {
        $tags = $this->items->tagsOf(array_map(static fn (Item $item): int => $item->id(), $items));
        $facts = $this->captures->facts(Viewer::system(), array_values(array_filter(
            array_map(static fn (Item $item): ?string => $item->captureCode, $items), static fn (?string $code): bool => null !== $code,
        )));
        $files = [];
        foreach ($this->attachments->ofAll(array_map(static fn (Item $item): int => $item->id(), $items)) as $file) {
            if (FileWords::mayHave($file->type)) {
                $files[$file->item][] = $file;
            }
        }
        foreach ($items as $item) {
            $digests = [];
            foreach ($files[$item->id()] ?? [] as $file) {
                $digests[] = (string) $file->sha256;
                if ('application/pdf' === $file->type) {
                    $digests[] = Readings::ofPages((string) $file->sha256);
                }
            }
            if ([] !== $this->readings->missing($digests)) {
                $this->bus->dispatch(new ReadItemFiles($item->id()), [new TransportNamesStamp(['slow'])]);
            }
            $about = $facts[$item->captureCode ?? ''] ?? null;
            $this->texts->item(
                self::kind($item->kind), $item->id(), (string) preg_replace('/^www\./', '', Url::tryParse($item->url ?? '')->host ?? ''),
                $item->title, self::writing($item, $tags[$item->id()] ?? [], $about)->and($this->readings->ofFiles($digests))
                    ->about(array_map(static fn (Attachment $file): string => $file->name, $files[$item->id()] ?? [])),
                $tags[$item->id()] ?? [], $item->createdAt,
                $item->changedAt,
            );
        }
    }

    private static function kind(ItemKind $kind): Kind
    {
        return match ($kind) {
            ItemKind::Note => Kind::Note,
            ItemKind::Excerpt => Kind::Excerpt,
            ItemKind::File => Kind::File,
            ItemKind::Capture, ItemKind::Address, ItemKind::Recording => Kind::Item,
        };
    }

    /**
     * What people wrote: what it has from its page is found there.
     *
     * @param list<string> $tags
     */
    private static function writing(Item $item, array $tags, ?CaptureFacts $about): Writing
    {
        $pieces = '' === $item->title || $item->title === $about?->title ? [] : [new Piece(Part::Title, $item->title)];
        foreach (Split::by('/\R+/u', $item->note) as $line) {
            $line = trim((string) preg_replace('/^[>#\s*+-]+|[*_`]+/', '', $line));
            if ('' !== $line) {
                $pieces[] = new Piece(str_starts_with(ltrim($item->note), '# ') && [] === $pieces ? Part::Heading : Part::Main, $line);
            }
        }
        $fields = [];
        foreach ($item->fields as $name => $value) {
            $fields[] = $name.' '.(\is_scalar($value) ? (string) $value : (string) json_encode($value, \JSON_UNESCAPED_UNICODE));
        }

        return (new Writing($pieces, Tongue::of($item->title."\n".$item->summary."\n".$item->note)))->about([
            $item->summary, ...$tags, ...$fields,
            null === $about ? mb_strcut(mb_scrub(rawurldecode($item->url ?? '')), 0, 2_000) : '',
        ]);
    }
}
