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
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemForm;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\NoteText;
use Ypomna\App\Desk\NoteWriting;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What the screen asks while somebody writes a note: how it looks, and that it is saved. */
#[Allow(Right::Keep)]
final class NoteController extends AbstractController
{
    public function __construct(
        private readonly ItemRepository $items,
        private readonly NoteWriting $writing,
        private readonly NoteText $text,
    ) {
    }

    /** How a note looks that is not saved yet. */
    #[Route('/notes/look', name: 'note_look', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function look(Request $request): Response
    {
        return new Response($this->text->html(ItemForm::note($request->request->getString('note'))));
    }

    #[Route('/items/{code}/note', name: 'item_note', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function save(Actor $actor, Viewer $viewer, Item $item, Request $request): Response
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        $form = $request->request;
        $mine = ItemForm::note($form->getString('note'));
        try {
            [$merged] = $this->writing->save($actor, $viewer, $item, ItemForm::note($form->getString('base')), $mine);
        } catch (SomebodyWasFaster) {
            return new JsonResponse(null, Response::HTTP_SERVICE_UNAVAILABLE, ['Retry-After' => '1']);
        }
        if (!$merged->isDecided()) {
            return new JsonResponse([
                'html' => $this->renderView('desk/_both_changed.html.twig', ['item' => $item, 'merged' => $merged]),
            ], Response::HTTP_CONFLICT);
        }

        return new JsonResponse(['note' => $item->note, 'state' => $item->state, 'mine' => $item->note === $mine,
            'html' => $this->text->html($item->note), 'shown' => $this->text->html($item->note, true)]);
    }
}
