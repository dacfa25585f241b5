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
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Where a capture lies, and who sees it. */
#[Allow(Right::Keep)]
final class CaptureDeskController extends AbstractController
{
    public function __construct(
        private readonly CaptureLimits $limits,
        private readonly DossierRepository $dossiers,
        private readonly Dossiers $changes,
    ) {
    }

    #[Route('/c/{code}/desk', name: 'capture_desk', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('capture-desk')]
    public function act(Actor $actor, Viewer $viewer, Capture $capture, Request $request): Response
    {
        $code = $capture->code;
        switch ($act = $request->request->getString('act')) {
            case 'confidential':
            case 'for-all':
                if (!$this->limits->maySay($viewer, $capture)) {
                    throw $this->createAccessDeniedException();
                }
                $this->limits->say($actor, $capture, 'confidential' === $act);
                break;
            case 'lay':
                $dossier = $this->dossiers->byCode($viewer, $request->request->getString('dossier'))
                    ?? throw $this->createNotFoundException('There is no such dossier.');
                if (!$this->dossiers->may($viewer, $dossier, Part::Writer)) {
                    throw $this->createAccessDeniedException();
                }
                $this->changes->lay($actor, $dossier, $code);
                break;
            default:
                throw $this->createNotFoundException('There is no such thing to do with a capture.');
        }

        return $this->redirectToRoute('read', ['code' => $code], Response::HTTP_SEE_OTHER);
    }
}
