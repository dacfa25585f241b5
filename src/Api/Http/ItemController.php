<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\HttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\HttpKernel\Exception\UnsupportedMediaTypeHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\DeskActs;
use Ypomna\App\Api\DossierArchive;
use Ypomna\App\Api\DossierFile;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\ItemFacts;
use Ypomna\App\Api\ItemQueries;
use Ypomna\App\Api\ItemRows;
use Ypomna\App\Api\ItemWish;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\CaptureItems;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\ItemTemplates;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What lies on the desk. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ItemController
{
    private const CODE = ['code' => Codes::PATTERN];
    /** Of what is taken back, in bytes. */
    private const LARGEST = 1_073_741_824;

    public function __construct(
        private ItemRepository $items,
        private Items $changes,
        private CaptureItems $captures,
        private ItemWish $wish,
        private ItemFacts $facts,
        private ItemQueries $queries,
        private DossierFile $files,
        private UrlGeneratorInterface $urls,
        private ClockInterface $clock,
    ) {
    }

    #[Told('Lists items as far as they are seen.', body: 'Items', query: Told::LIST + ItemQueries::NAMES)]
    #[Needs(Scope::Read)]
    #[Route('/api/items', name: 'api_items', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $query = $this->queries->of($request, $most + 1);
        $found = $this->items->list($viewer, $query);

        return Answers::list($this->facts->ofAll($viewer, $found), $most, fn (): string => $this->urls->generate(
            'api_items',
            ['after' => ItemQueries::written($this->items->cursor($viewer, $query, $found[$most - 1]))] + $request->query->all(),
            UrlGeneratorInterface::ABSOLUTE_URL,
        ));
    }

    #[Told('Makes an item.', 201, 'Item', 'ItemRequest', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items', name: 'api_item_make', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function make(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        [$kind, $subject] = $this->wish->subject($viewer, $fields);
        $wish = $this->wish->change($fields);
        $fields->done();
        $wish = null === $subject->capture ? $wish : $this->captures->carried($viewer, $subject->capture, $wish);
        $item = DeskActs::done(fn (): Item => $this->changes->make($actor, $viewer, $kind, $subject, $wish));

        return Answers::json(
            $this->facts->of($viewer, $item), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_item', ['code' => $item->code])],
        );
    }

    #[Told('Tells of an item.', body: 'Item')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}', name: 'api_item', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, Item $item): JsonResponse
    {
        return Answers::json($this->facts->of($viewer, $item));
    }

    #[Told('Changes an item.', body: 'Item', takes: 'ItemChange', type: 'application/merge-patch+json', also: [409, 412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}', name: 'api_item_change', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function change(Actor $actor, Viewer $viewer, Item $item, Request $request): JsonResponse
    {
        $this->may($viewer, [$item]);
        Answers::mustMatch($request, $item->etag());
        $fields = Fields::ofPatch($request);
        $wish = $this->wish->change($fields);
        $fields->done();
        DeskActs::done(fn (): array => $this->changes->change($actor, $viewer, [$item], $wish));

        return Answers::json($this->facts->of($viewer, $item));
    }

    #[Told('Deletes an item with those under it; for 30 days it can be brought back.', 204, also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}', name: 'api_item_delete', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['DELETE'])]
    public function delete(Actor $actor, Viewer $viewer, Item $item, Request $request): Response
    {
        $this->may($viewer, [$item]);
        Answers::mustMatch($request, $item->etag());
        $this->changes->delete($actor, $item);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Brings an item back.', body: 'Item', also: [409])]
    // Whether they may is asked of what they name: what they do not see is not there.
    #[Needs(Scope::Write)]
    #[Route('/api/items/{code}/restore', name: 'api_item_restore', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function restore(Actor $actor, Viewer $viewer, string $code): JsonResponse
    {
        $item = $this->items->deleted($viewer, $code, $this->clock->now()->modify(Items::KEPT)) ?? throw new NotFoundHttpException();
        $this->changes->restore($actor, $item);

        return Answers::json($this->facts->of($viewer, $item));
    }

    #[Told('Makes another item after one: its note, tags and fields, and the items under it.', 201, 'Item', 'ItemCopy', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/copy', name: 'api_item_copy', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function copy(Actor $actor, Viewer $viewer, Item $item, Request $request, ItemTemplates $templates): JsonResponse
    {
        $fields = Fields::of($request);
        $title = $fields->text('title', Item::LONGEST_TITLE);
        $fields->done();
        $copy = DeskActs::done(static fn (): Item => $templates->copy($actor, $viewer, $item, $title ?? $item->title));

        return Answers::json(
            $this->facts->of($viewer, $copy), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_item', ['code' => $copy->code])],
        );
    }

    #[Told('Puts an item elsewhere in an order made by hand, or under another one.', body: 'Item', takes: 'ItemMove', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/move', name: 'api_item_move', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function move(Actor $actor, Viewer $viewer, Item $item, Request $request): JsonResponse
    {
        $this->may($viewer, [$item]);
        $fields = Fields::of($request);
        $parent = $fields->text('parent', 20);
        $dossier = $fields->text('dossier', 20);
        [$beside, $isBefore] = DeskActs::beside($fields);
        if (!$fields->has('parent') && null === $dossier && null === $beside) {
            $fields->wrong('', 'Where to? One of these is wanted: parent, dossier, before, after.');
        }
        $fields->done();
        DeskActs::done(fn (): string => $this->changes->move(
            $actor, $viewer, $item, $fields->has('parent') ? $parent : false, $dossier, $beside, $isBefore,
        ));

        return Answers::json($this->facts->of($viewer, $item));
    }

    #[Told('Changes many items at once, all or nothing.', body: 'BatchDone', takes: 'Batch', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/batch', name: 'api_items_batch', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function batch(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $codes = $fields->texts('codes', Items::MOST_AT_ONCE, 20);
        if (null === $codes && !$fields->isWrong()) {
            $fields->wrong('codes', 'The codes of items are wanted.');
        }
        $inner = $fields->inner('set');
        if (null === $inner && !$fields->isWrong()) {
            $fields->wrong('set', 'What is to be otherwise is wanted.');
        }
        $wish = null === $inner ? null : $this->wish->batch($inner);
        $fields->take($inner);
        $codes = array_values(array_unique($codes ?? []));
        $items = $this->items->byCodes($viewer, $codes);
        $seen = array_map(static fn (Item $item): string => $item->code, $items);
        foreach (array_keys(array_diff($codes, $seen)) as $n) {
            $fields->wrong('codes/'.$n, 'There is no such item.');
        }
        $fields->done();
        if (null === $wish) {
            throw InvalidFields::at('/set', 'What is to be otherwise is wanted.');
        }
        $this->may($viewer, $items);
        [$changed, $undo] = DeskActs::done(fn (): array => $this->changes->change($actor, $viewer, $items, $wish), '/set');

        return Answers::json(['changed' => $changed, 'undo' => $undo]);
    }

    #[Told('Gives out items, of all pages, as they are told one by one.', body: 'ItemFile', query: ItemQueries::NAMES)]
    #[Needs(Scope::Export)]
    #[Route('/api/items.json', name: 'api_items_json', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function json(Viewer $viewer, Request $request): Response
    {
        $query = $this->queries->of($request, Answers::MOST);

        return self::streamed('application/json', function () use ($viewer, $query): void {
            echo '{"items":[';
            foreach ($this->files->told($viewer, $query) as $n => $item) {
                echo 0 === $n ? '' : ',', json_encode($item, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES
                    | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PRESERVE_ZERO_FRACTION);
            }
            echo ']}';
        });
    }

    #[Told('Gives out items, of all pages, as a table.', body: 'ItemTable', query: ItemQueries::NAMES, answer: 'text/csv; charset=utf-8')]
    #[Needs(Scope::Export)]
    #[Route('/api/items.csv', name: 'api_items_csv', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function csv(Viewer $viewer, Request $request): Response
    {
        $query = $this->queries->of($request, Answers::MOST);

        return self::streamed('text/csv; charset=utf-8', function () use ($viewer, $query): void {
            echo ItemRows::head();
            foreach ($this->files->told($viewer, $query) as $item) {
                echo ItemRows::row($item);
            }
        });
    }

    /** The body of any of them. */
    #[Told('Takes items back that were given out, in JSON, as a table or as the ZIP file of a dossier: all or nothing.',
        body: 'Imported', takes: 'ItemFile', query: [
            'replace' => 'true: what differs is written over; else it is a conflict, and told which.',
        ], also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/import', name: 'api_items_import', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function import(Actor $actor, Viewer $viewer, Request $request, DossierArchive $archive): JsonResponse
    {
        $type = strtolower(trim(explode(';', $request->headers->get('Content-Type') ?? '')[0]));
        if (!\in_array($type, ['application/json', 'text/csv', 'application/zip'], true)) {
            throw new UnsupportedMediaTypeHttpException();
        }
        $replaces = match ($request->query->all()['replace'] ?? null) {
            null, '', 'false' => false, 'true' => true, default => throw new BadRequestHttpException(),
        };
        $stream = tmpfile();
        if (false === $stream || stream_copy_to_stream($request->getContent(true), $stream, self::LARGEST + 1) > self::LARGEST) {
            throw new HttpException(413);
        }

        $done = 'application/zip' === $type
            ? $archive->take($actor, $viewer, stream_get_meta_data($stream)['uri'] ?? '', $replaces)
            : $this->files->take($actor, $viewer, $stream, 'text/csv' === $type, $replaces);

        // Of a dossier that was given out, the dossiers are made, too.
        return Answers::json(array_intersect_key($done, ['made' => 0, 'left' => 0, 'replaced' => 0]));
    }

    /** @param \Closure(): void $write */
    private static function streamed(string $type, \Closure $write): StreamedResponse
    {
        return new StreamedResponse($write, Response::HTTP_OK, ['Content-Type' => $type, 'Cache-Control' => 'no-store']);
    }

    /** Unless something was changed since: then it is told which. */
    #[Told('Puts back what an act changed.', body: 'Undone', also: [409])]
    // Whether they may is asked of what they name: what they do not see is not there.
    #[Needs(Scope::Write)]
    #[Route('/api/undo/{code}', name: 'api_undo', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function undo(Actor $actor, Viewer $viewer, string $code): JsonResponse
    {
        return Answers::json(['changed' => $this->changes->undo($actor, $viewer, $code) ?? throw new NotFoundHttpException()]);
    }

    /** @param list<Item> $items */
    private function may(Viewer $viewer, array $items): void
    {
        foreach ($items as $item) {
            if (!$this->items->mayChange($viewer, $item)) {
                throw new AccessDeniedHttpException();
            }
        }
    }
}
