<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemForm;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Desk\TagSuggestions;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Account\LocalTarget;

/** What boxes offer while somebody types, and which tags could suit an item. */
#[Allow(Right::Keep)]
final class NameController extends AbstractController
{
    private const OFFERED = 8;

    public function __construct(
        private readonly ItemRepository $items,
        private readonly ItemTags $tags,
        private readonly DossierRepository $dossiers,
    ) {
    }

    /** Items by the beginning of their titles, or of a word in the titles of newer ones. */
    #[Route('/names/items', name: 'item_names', methods: ['GET'])]
    public function items(Viewer $viewer, Request $request): JsonResponse
    {
        $typed = self::typed($request);

        return new JsonResponse(array_map(
            fn (Item $item): array => ['name' => $item->title, 'path' => $this->generateUrl('item', ['code' => $item->code])],
            '' === $typed ? [] : $this->items->called($viewer, $typed, self::OFFERED),
        ));
    }

    #[Route('/names/tags', name: 'tag_names', methods: ['GET'])]
    public function tags(Viewer $viewer, Request $request): JsonResponse
    {
        $typed = self::typed($request);

        return new JsonResponse(array_map(
            static fn (string $name): array => ['name' => $name], '' === $typed ? [] : $this->tags->called($viewer, $typed, self::OFFERED),
        ));
    }

    #[Route('/names/dossiers', name: 'dossier_names', methods: ['GET'])]
    public function dossiers(Viewer $viewer, Request $request): JsonResponse
    {
        return new JsonResponse(array_map(
            static fn (Dossier $dossier): array => ['name' => $dossier->name],
            $this->dossiers->writable($viewer, self::typed($request), self::OFFERED),
        ));
    }

    /** Tags that could suit an item, also by the dossier that is named in the form beside it. */
    #[Route('/items/{code}/suggestions', name: 'item_suggestions', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function suggested(Viewer $viewer, Item $item, Request $request, TagSuggestions $suggestions, ItemForm $form): Response
    {
        try {
            $code = $form->dossier($viewer, trim(mb_substr($request->query->getString('dossier'), 0, 1_000)));
        } catch (CannotChange) {
            $code = null;
        }

        return $this->render('desk/_suggested.html.twig', [
            'tags' => $suggestions->of($viewer, $item, null === $code ? null : $this->dossiers->byCode($viewer, $code)),
        ]);
    }

    /** Tags that one has always on. */
    #[Route('/intake/always', name: 'always_tags', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function always(Viewer $viewer, Request $request, AlwaysTags $always): Response
    {
        $back = LocalTarget::of($request->request->getString('back')) ?? $this->generateUrl('intake');
        try {
            $always->set($viewer, ItemForm::tags($request->request->getString('tags')));
        } catch (CannotChange $e) {
            return $this->render('desk/not_done.html.twig', ['why' => $e, 'back' => $back], new Response('', 422));
        }

        return $this->redirect($back, Response::HTTP_SEE_OTHER);
    }

    private static function typed(Request $request): string
    {
        return trim(mb_substr($request->query->getString('q'), 0, 100));
    }
}
