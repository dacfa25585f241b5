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
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\Glosses;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Notes in the margin of a page that is read. */
#[Allow(Right::Read)]
final class GlossController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const LONGEST = 2_000;
    private const AROUND = 200;

    public function __construct(private readonly Glosses $glosses)
    {
    }

    #[Route('/c/{code}/glosses', name: 'glosses', requirements: self::CODE, methods: ['GET'])]
    public function all(Viewer $viewer, Capture $capture): Response
    {
        return $this->shown($viewer, $capture);
    }

    #[Allow(Right::Keep)]
    #[Route('/c/{code}/glosses', name: 'gloss_write', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function write(Actor $actor, Viewer $viewer, Capture $capture, Request $request): Response
    {
        $form = $request->request;
        $exact = mb_substr(trim($form->getString('exact')), 0, self::LONGEST);
        $note = trim(strtr($form->getString('note'), ["\r\n" => "\n"]));
        if ('' !== $exact && '' !== $note) {
            $this->glosses->write($actor, $viewer, $capture, [
                'exact' => $exact, 'prefix' => mb_substr($form->getString('prefix'), -self::AROUND),
                'suffix' => mb_substr($form->getString('suffix'), 0, self::AROUND),
            ], $note);
        }

        return $request->headers->has('X-Fragment')
            ? $this->shown($viewer, $capture) : $this->redirectToRoute('read', ['code' => $capture->code], Response::HTTP_SEE_OTHER);
    }

    private function shown(Viewer $viewer, Capture $capture): Response
    {
        return $this->render('desk/_glosses.html.twig', ['glosses' => $this->glosses->of($viewer, $capture), 'capture' => $capture]);
    }
}
