<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\CollectedFields;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\DossierViews;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemForm;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\WrongValue;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Ways to look at a dossier: saved ones, branches of its outline, cells of its register. */
#[Allow(Right::Read)]
final class DossierViewController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const LISTED = 500;

    public function __construct(
        private readonly DossierRepository $dossiers,
        private readonly DossierViews $views,
        private readonly ItemRepository $items,
    ) {
    }

    /** Saves a way under a name, or forgets one. */
    #[Allow(Right::Keep)]
    #[Route('/dossiers/{code}/views', name: 'dossier_view', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('dossier')]
    public function save(Viewer $viewer, string $code, Request $request): Response
    {
        $dossier = $this->dossier($viewer, $code);
        $form = $request->request;
        if ('forget' === $form->getString('act')) {
            $saved = $this->views->byCode($viewer, $dossier, $form->getString('view'))
                ?? throw $this->createNotFoundException('There is no such way to look at it.');
            if (!$this->views->mayForget($viewer, $dossier, $saved)) {
                throw $this->createAccessDeniedException();
            }
            $this->views->forget($dossier, $saved);

            return $this->redirectToRoute('dossier', ['code' => $code] + $saved->view->query(), Response::HTTP_SEE_OTHER);
        }
        parse_str(mb_substr($form->getString('query'), 0, 10_000), $query);
        try {
            $saved = $this->views->save(
                $viewer, $dossier, $form->getString('name'), DossierView::of($query), '1' === $form->getString('all'),
            );
        } catch (CannotChange $e) {
            return $this->render('desk/not_done.html.twig', [
                'why' => $e, 'back' => $this->generateUrl('dossier', ['code' => $code]),
            ], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }

        return $this->redirectToRoute('dossier', ['code' => $code, 'view' => $saved], Response::HTTP_SEE_OTHER);
    }

    /** What the fields of its items say together. */
    #[Route('/dossiers/{code}/fields', name: 'collected_fields', requirements: self::CODE, methods: ['GET'])]
    public function fields(Viewer $viewer, string $code, CollectedFields $collected): Response
    {
        $dossier = $this->dossier($viewer, $code);
        [$fields, $isMore] = $collected->of($viewer, $dossier);

        return $this->render('desk/collected.html.twig', [
            'dossier' => $dossier, 'fields' => $fields, 'more' => $isMore, 'most' => CollectedFields::MOST,
        ]);
    }

    /** What lies in a dossier, as a branch of an outline. */
    #[Route('/dossiers/{code}/branch', name: 'dossier_branch', requirements: self::CODE, methods: ['GET'])]
    public function inDossier(Viewer $viewer, string $code, Request $request): Response
    {
        $dossier = $this->dossier($viewer, $code);

        return $this->branch($viewer, $this->dossiers->in($viewer, $dossier), $this->items->list(
            $viewer, DossierView::of($request->query->all())->items($code, null, null, self::LISTED),
        ));
    }

    /** What lies under an item. */
    #[Route('/items/{code}/branch', name: 'item_branch', requirements: self::CODE, methods: ['GET'])]
    public function underItem(Viewer $viewer, Item $item): Response
    {
        return $this->branch($viewer, [], $this->items->list(
            $viewer, new ItemQuery(parent: $item->code, order: ItemOrder::Hand, most: self::LISTED),
        ));
    }

    /** One cell of a register is said otherwise. */
    #[Allow(Right::Keep)]
    #[Route('/items/{code}/cell', name: 'item_cell', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function cell(
        Actor $actor,
        Viewer $viewer,
        Item $item,
        Request $request,
        Items $changes,
        ItemForm $form,
        TranslatorInterface $translator,
    ): Response {
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        $column = $request->request->getString('column');
        try {
            if ($request->request->getString('state') !== $item->state) {
                throw new SomebodyWasFaster('desk.item_was_changed');
            }
            $changes->change($actor, $viewer, [$item], $form->cell($item, $column, $request->request->getString('value')));
        } catch (CannotChange|SomebodyWasFaster|WrongValue $e) {
            return new JsonResponse(['error' => $e instanceof WrongValue ? $e->getMessage() : $e->trans($translator)],
                $e instanceof SomebodyWasFaster ? Response::HTTP_CONFLICT : Response::HTTP_UNPROCESSABLE_ENTITY);
        }

        return new JsonResponse(['state' => $item->state, 'html' => $this->renderView('desk/_cell.html.twig', [
            'shown' => $this->items->shown($viewer, [$item])[0], 'column' => $column, 'edits' => true,
        ])]);
    }

    /**
     * @param list<Dossier> $dossiers
     * @param list<Item> $items
     */
    private function branch(Viewer $viewer, array $dossiers, array $items): Response
    {
        return $this->render('desk/_branch.html.twig', [
            'dossiers' => $dossiers, 'items' => $this->items->shown($viewer, $items),
            'branching' => $this->items->branching($viewer, $items),
        ]);
    }

    private function dossier(Viewer $viewer, string $code): Dossier
    {
        return $this->dossiers->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such dossier.');
    }
}
