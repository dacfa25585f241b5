<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Journal;
use Ypomna\App\Desk\Notes;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Compare\WordDiff;

/** Who did what, and how notes read before. */
#[Allow(Right::Read)]
final class HistoryController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const SHOWN = 50;

    public function __construct(
        private readonly Journal $journal,
        private readonly Notes $notes,
        private readonly ItemRepository $items,
        private readonly DossierRepository $dossiers,
    ) {
    }

    #[Route('/items/{code}/history', name: 'item_history', requirements: self::CODE, methods: ['GET'])]
    public function item(Viewer $viewer, Item $item, Request $request): Response
    {
        [$acts, $more] = $this->journal->ofItem($viewer, $item, max(0, $request->query->getInt('before')), self::SHOWN);
        $wanted = $request->query->getInt('version');
        $one = 0 === $wanted ? null : $this->notes->one($item, $wanted)
            ?? throw $this->createNotFoundException('There is no such version.');
        $before = null === $one ? null : $this->notes->before($item, $one);
        $now = '1' === $request->query->getString('now');

        return $this->render('desk/item_history.html.twig', [
            'item' => $item, 'versions' => $this->notes->versions($item), 'one' => $one, 'before' => $before, 'now' => $now,
            'change' => null === $one ? null : ['words' => $now
                ? WordDiff::between((string) $one->note, $item->note) : WordDiff::between((string) $before?->note, (string) $one->note)],
            'mayChange' => $this->items->mayChange($viewer, $item), 'acts' => $acts, 'more' => $more,
        ]);
    }

    /** A note reads again as it did. */
    #[Allow(Right::Keep)]
    #[Route('/items/{code}/history', name: 'note_back', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function back(Actor $actor, Viewer $viewer, Item $item, Items $changes, Request $request): Response
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        $one = $this->notes->one($item, $request->request->getInt('version'))
            ?? throw $this->createNotFoundException('There is no such version.');
        try {
            [, $undo] = $changes->change($actor, $viewer, [$item], new ItemChange(note: (string) $one->note));
        } catch (SomebodyWasFaster $e) {
            return $this->render('desk/not_done.html.twig', [
                'why' => $e, 'back' => $this->generateUrl('item_history', ['code' => $item->code]),
            ], new Response('', Response::HTTP_CONFLICT));
        }

        return $this->redirectToRoute('item', ['code' => $item->code, 'undo' => $undo], Response::HTTP_SEE_OTHER);
    }

    #[Route('/dossiers/{code}/history', name: 'dossier_history', requirements: self::CODE, methods: ['GET'])]
    public function dossier(Viewer $viewer, string $code, Request $request): Response
    {
        $dossier = $this->dossiers->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such dossier.');
        [$acts, $more] = $this->journal->ofDossier($viewer, $dossier, max(0, $request->query->getInt('before')), self::SHOWN);

        return $this->render('desk/dossier_history.html.twig', ['dossier' => $dossier, 'acts' => $acts, 'more' => $more]);
    }
}
