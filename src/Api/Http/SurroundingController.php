<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\ItemWish;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\TagSuggestions;
use Ypomna\App\Desk\Ties;
use Ypomna\App\Desk\Value\Knot;
use Ypomna\App\Desk\Value\SuggestedTag;
use Ypomna\App\Desk\Value\Tie;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What hangs together around an item, which tags would suit it, and those that somebody has always on. */
#[AsController]
#[Allow(Right::Read)]
final readonly class SurroundingController
{
    private const CODE = ['code' => Codes::PATTERN];

    #[Told('Tells what hangs together around an item, up to two steps far.', body: 'Ties')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/ties', name: 'api_item_ties', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function ties(Viewer $viewer, Item $item, Ties $ties): JsonResponse
    {
        [$knots, $between, $isMore] = $ties->around($viewer, $item);

        return Answers::json([
            'things' => array_map(static fn (Knot $knot): array => [
                'code' => $knot->code, 'kind' => $knot->kind(), 'isItem' => $knot->isItem(), 'title' => $knot->name(),
                'capturedAt' => Answers::moment($knot->at),
            ], $knots),
            'ties' => array_map(static fn (Tie $tie): array => [
                'from' => $tie->from, 'to' => $tie->to, 'kind' => $tie->kind->value, 'words' => $tie->words,
            ], $between),
            'complete' => !$isMore,
        ]);
    }

    #[Told('Offers tags for an item: by its dossiers, by those that are used, by the words of its page.', body: 'SuggestedTags')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/suggestions', name: 'api_item_suggestions', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function suggestions(Viewer $viewer, Item $item, TagSuggestions $suggestions): JsonResponse
    {
        return Answers::json(['items' => array_map(
            static fn (SuggestedTag $one): array => ['name' => $one->name, 'why' => $one->why->value],
            $suggestions->of($viewer, $item),
        ), 'next' => null]);
    }

    #[Told('Tells which tags whatever one brings in gets.', body: 'AlwaysTags')]
    #[Needs(Scope::Read)]
    #[Route('/api/me/tags', name: 'api_always_tags', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function always(Viewer $viewer, AlwaysTags $tags): JsonResponse
    {
        return Answers::json(['tags' => $tags->of($viewer->name)]);
    }

    #[Told('Says which tags whatever one brings in gets, in place of those before.', body: 'AlwaysTags', takes: 'AlwaysTags')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/me/tags', name: 'api_always_tags_set', defaults: FetchMetadataGuard::OPEN, methods: ['PUT'])]
    public function setAlways(Viewer $viewer, AlwaysTags $tags, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $names = $fields->texts('tags', AlwaysTags::MOST, Tags::LONGEST);
        if (null === $names && !$fields->isWrong()) {
            $fields->wrong('tags', 'A list of texts is wanted.');
        }
        foreach ($names ?? [] as $n => $name) {
            if (str_contains($name, '/')) {
                $fields->wrong('tags/'.$n, ItemWish::NO_STROKE);
            }
        }
        $fields->done();
        $tags->set($viewer, $names ?? []);

        return $this->always($viewer, $tags);
    }
}
