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
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** One's own favourites. */
#[Allow(Right::Read)]
final class FavouriteController extends AbstractController
{
    public function __construct(private readonly Favourites $favourites)
    {
    }

    #[Route('/favourites', name: 'favourites', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): Response
    {
        $kind = FavouriteKind::tryFrom($request->query->getString('gone'));
        $code = $request->query->getString('code');

        return $this->shown($viewer, null === $kind || 1 !== preg_match('/^'.Codes::PATTERN.'$/D', $code) ? null : [
            'kind' => $kind->value, 'code' => $code,
        ]);
    }

    #[Route('/favourites', name: 'favourite_act', methods: ['POST'])]
    #[IsCsrfTokenValid('favourite')]
    public function act(Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $kind = FavouriteKind::tryFrom($form->getString('kind')) ?? throw $this->createNotFoundException('There is no such kind of thing.');
        $code = $form->getString('code');
        $act = $form->getString('act');
        if ('remove' !== $act && !$this->favourites->isThere($viewer, $kind, $code)) {
            throw $this->createNotFoundException('There is no such thing.');
        }
        try {
            match ($act) {
                'add' => $this->favourites->add($viewer, $kind, $code),
                'pin' => $this->favourites->add($viewer, $kind, $code, true),
                'unpin' => $this->favourites->add($viewer, $kind, $code, false),
                'remove' => $this->favourites->remove($viewer, $kind, $code),
                default => throw $this->createNotFoundException('There is no such thing to do with a favourite.'),
            };
        } catch (CannotChange $e) {
            return $this->shown($viewer, null, $e);
        }
        if ('list' !== $form->getString('from')) {
            return $this->redirectToRoute($kind->route(), ['code' => $code], Response::HTTP_SEE_OTHER);
        }

        return $this->redirectToRoute(
            'favourites', 'remove' === $act ? ['gone' => $kind->value, 'code' => $code] : [], Response::HTTP_SEE_OTHER,
        );
    }

    /** @param array{kind: string, code: string}|null $gone what was just taken from the list, and can be put back */
    private function shown(Viewer $viewer, ?array $gone, ?TranslatableInterface $why = null): Response
    {
        return $this->render(
            'desk/favourites.html.twig', ['favourites' => $this->favourites->of($viewer), 'gone' => $gone, 'why' => $why],
            new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY),
        );
    }
}
