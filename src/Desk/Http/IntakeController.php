<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Intake;
use Ypomna\App\Desk\ItemForm;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\WrongValue;
use Ypomna\App\Replay\StillPage;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What came in is looked through, one after the other or many at once, until nothing is left. */
#[Allow(Right::Keep)]
final class IntakeController extends AbstractController
{
    private const LISTED = 100;

    public function __construct(
        private readonly Intake $intake,
        private readonly ItemRepository $items,
        private readonly Items $changes,
        private readonly ItemForm $form,
        private readonly CaptureRepository $captures,
        private readonly StillPage $page,
    ) {
    }

    #[Route('/intake', name: 'intake', methods: ['GET'])]
    public function next(Viewer $viewer, Request $request): Response
    {
        $after = max(0, $request->query->getInt('after'));
        $next = $this->intake->waiting($viewer, $after)[0] ?? (0 === $after ? null : $this->intake->waiting($viewer)[0] ?? null);

        return $this->shown($viewer, $request, $next);
    }

    #[Route('/intake/list', name: 'intake_list', methods: ['GET'])]
    public function list(Viewer $viewer, Request $request): Response
    {
        $after = max(0, $request->query->getInt('after'));
        $found = $this->intake->waiting($viewer, $after, self::LISTED + 1);

        return $this->render('desk/intake_list.html.twig', [
            'items' => $this->items->shown($viewer, \array_slice($found, 0, self::LISTED)), 'left' => $this->items->waiting($viewer),
            'more' => \count($found) > self::LISTED ? $found[self::LISTED - 1]->id() : null,
        ]);
    }

    #[Route('/intake/{code}', name: 'intake_answer', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function answer(Actor $actor, Viewer $viewer, Item $item, Request $request): Response
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
        $undo = $deleted = '';
        $id = $item->id();
        try {
            switch ($request->request->getString('act')) {
                case 'later':
                    break;
                case 'delete':
                    $this->changes->delete($actor, $item);
                    $deleted = $item->code;
                    break;
                default:
                    $undo = $this->changes->change($actor, $viewer, [$item], $this->form->answer($viewer, $request, true))[1];
            }
        } catch (CannotChange|Circle|SomebodyWasFaster|WrongValue $e) {
            return $this->shown($viewer, $request, $item, $e);
        }
        if (!$request->headers->has('HX-Request')) {
            return $this->redirectToRoute('intake', array_filter(
                ['after' => $id, 'undo' => $undo, 'deleted' => $deleted], static fn (int|string $one): bool => '' !== $one,
            ), Response::HTTP_SEE_OTHER);
        }
        $next = $this->intake->waiting($viewer, $id)[0] ?? $this->intake->waiting($viewer)[0] ?? null;

        return $this->shown($viewer, $request, $next, null, $undo, $deleted);
    }

    private function shown(
        Viewer $viewer,
        Request $request,
        ?Item $item,
        TranslatableInterface|WrongValue|null $why = null,
        ?string $undo = null,
        ?string $deleted = null,
    ): Response {
        $capture = null === $item?->captureCode ? null : $this->captures->byCode($viewer, $item->captureCode);
        $values = [
            'shown' => null === $item ? null : $this->items->shown($viewer, [$item])[0], 'left' => $this->items->waiting($viewer),
            'frame' => null === $capture ? null : $this->page->of($viewer, $capture), 'capture' => $capture, 'why' => $why,
            'typed' => null === $why ? [] : $request->request->all(), 'undo' => $undo ?? $request->query->getString('undo'),
            'deleted' => self::code($deleted ?? $request->query->getString('deleted')),
        ];
        $fragment = $request->headers->has('HX-Request');

        return $this->render(
            $fragment ? 'desk/_intake.html.twig' : 'desk/intake.html.twig', $values,
            new Response('', null === $why || $fragment ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY),
        );
    }

    private static function code(string $typed): string
    {
        return 1 === preg_match('/^'.Codes::PATTERN.'$/D', $typed) ? $typed : '';
    }
}
