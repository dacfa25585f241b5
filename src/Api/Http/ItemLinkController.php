<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\DeskActs;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\ItemFacts;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What leads from an item to another one, or to a passage of a capture. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ItemLinkController
{
    public const LONGEST_PASSAGE = 20_000;
    public const LONGEST_AROUND = 1_000;
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private ItemLinks $links,
        private ItemRepository $items,
        private UrlGeneratorInterface $urls,
        private ClockInterface $clock,
    ) {
    }

    #[Told('Lists what leads from an item, and what leads to it.', body: 'ItemLinks')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/links', name: 'api_item_links', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function all(Viewer $viewer, Item $item): JsonResponse
    {
        return Answers::json([
            'out' => array_map(ItemFacts::link(...), $this->links->from($viewer, $item)),
            'in' => array_map(ItemFacts::link(...), $this->links->to($viewer, $item)),
        ]);
    }

    #[Told('Leads from an item to another one, or to a capture or a passage of it.', 201, 'ItemLink', 'ItemLinkRequest')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/links', name: 'api_item_link_make', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function make(Actor $actor, Viewer $viewer, Item $item, Request $request): JsonResponse
    {
        $this->may($viewer, $item);
        $fields = Fields::of($request);
        $to = $fields->text('to', 20, false);
        if (null === $to && !$fields->isWrong()) {
            $fields->wrong('to', 'The code of an item or a capture is wanted.');
        }
        $remark = $fields->text('remark', ItemLink::LONGEST_REMARK);
        $passage = self::passage($fields);
        $fields->done();
        $link = DeskActs::done(fn (): ItemLink => $this->links->make($actor, $viewer, $item, (string) $to, $passage, $remark));

        return Answers::json(
            ItemFacts::link($link), Response::HTTP_CREATED, ['Location' => $this->urls->generate('api_link', ['code' => $link->code])],
        );
    }

    #[Told('Tells of a link.', body: 'ItemLink')]
    #[Needs(Scope::Read)]
    #[Route('/api/links/{code}', name: 'api_link', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(ItemLink $link): JsonResponse
    {
        return Answers::json(ItemFacts::link($link));
    }

    #[Told('Takes a link away; for 30 days it can be brought back.', 204, also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/links/{code}', name: 'api_link_delete', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['DELETE'])]
    public function delete(Actor $actor, Viewer $viewer, ItemLink $link, Request $request): Response
    {
        $this->may($viewer, $link->from);
        Answers::mustMatch($request, $link->etag());
        $this->links->delete($actor, $link);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Brings a link back.', body: 'ItemLink')]
    // Whether they may is asked of what they name: what they do not see is not there.
    #[Needs(Scope::Write)]
    #[Route('/api/links/{code}/restore', name: 'api_link_restore', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function restore(Actor $actor, Viewer $viewer, string $code): JsonResponse
    {
        $link = $this->links->deleted($viewer, $code, $this->clock->now()->modify(Items::KEPT)) ?? throw new NotFoundHttpException();
        $this->may($viewer, $link->from);
        $this->links->restore($actor, $link);

        return Answers::json(ItemFacts::link($link));
    }

    /** @return array{exact: string, prefix?: string, suffix?: string}|null */
    private static function passage(Fields $fields): ?array
    {
        $inner = $fields->inner('passage');
        if (null === $inner) {
            return null;
        }
        $exact = $inner->text('exact', self::LONGEST_PASSAGE, false);
        if (null === $exact || '' === trim($exact)) {
            $inner->wrong('exact', 'The words of the passage are wanted.');
        }
        $around = [];
        foreach (['prefix', 'suffix'] as $name) {
            $text = $inner->text($name, self::LONGEST_AROUND);
            if (null !== $text) {
                $around[$name] = $text;
            }
        }
        $fields->take($inner);

        return ['exact' => (string) $exact] + $around;
    }

    private function may(Viewer $viewer, Item $item): void
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw new AccessDeniedHttpException();
        }
    }
}
