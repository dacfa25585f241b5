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
use Ypomna\App\Desk\ArchivalDescription;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\FindingAids;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\FindingAid;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Account\LocalTarget;

/** Finding aids: lists of contents with descriptions. */
#[Allow(Right::Read)]
final class FindingAidController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(private readonly FindingAids $aids)
    {
    }

    #[Route('/aids', name: 'finding_aids', methods: ['GET'])]
    public function all(Viewer $viewer): Response
    {
        return $this->render('desk/finding_aids.html.twig', ['aids' => $this->aids->madeBy($viewer)]);
    }

    /** Of a dossier, or of items that are ticked. */
    #[Allow(Right::Keep)]
    #[Route('/aids', name: 'finding_aid_make', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function make(
        Actor $actor,
        Viewer $viewer,
        Request $request,
        DossierRepository $dossiers,
        ItemRepository $items,
    ): Response {
        $form = $request->request;
        $dossier = $form->getString('of');
        $codes = \array_slice(array_values(array_filter($form->all('codes'), \is_string(...))), 0, Items::MOST_AT_ONCE);
        $back = LocalTarget::of($form->getString('back')) ?? '/';
        $of = '' === $dossier ? $items->byCodes($viewer, $codes)
            : $dossiers->byCode($viewer, $dossier) ?? throw $this->createNotFoundException('There is no such dossier.');
        try {
            if ([] === $of) {
                throw new CannotChange('desk.nothing_is_ticked');
            }
            $code = $this->aids->make(
                $actor, $viewer, $of, $form->getString('title'), strtr($form->getString('note'), ["\r\n" => "\n"]),
                'fixed' === $form->getString('manner'),
            );
        } catch (CannotChange $e) {
            return $this->render('desk/not_done.html.twig', ['why' => $e, 'back' => $back], new Response('', 422));
        }

        return $this->redirectToRoute('finding_aid', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/aids/{code}', name: 'finding_aid', requirements: self::CODE, methods: ['GET'])]
    public function one(Viewer $viewer, string $code): Response
    {
        $aid = $this->aid($viewer, $code);
        [$entries, $hidden] = $this->aids->entries($viewer, $aid);

        return $this->render('desk/finding_aid.html.twig', [
            'aid' => $aid, 'entries' => $entries, 'hidden' => $hidden, 'mayDelete' => $this->aids->mayDelete($viewer, $aid),
        ]);
    }

    #[Route('/aids/{code}/ead.xml', name: 'finding_aid_ead', requirements: self::CODE, methods: ['GET'])]
    public function ead(Viewer $viewer, string $code, ArchivalDescription $description): Response
    {
        $aid = $this->aid($viewer, $code);

        return new Response($description->of($aid, $this->aids->entries($viewer, $aid)[0]), Response::HTTP_OK, [
            'Content-Type' => 'application/xml; charset=utf-8', 'Content-Disposition' => Download::attachment($aid->title.'.xml'),
        ]);
    }

    #[Allow(Right::Keep)]
    #[Route('/aids/{code}/delete', name: 'finding_aid_delete', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function delete(Viewer $viewer, string $code, Request $request): Response
    {
        $aid = $this->aid($viewer, $code);
        if (!$this->aids->mayDelete($viewer, $aid)) {
            throw $this->createAccessDeniedException();
        }
        if ('1' !== $request->request->getString('sure')) {
            return $this->render('desk/finding_aid_delete.html.twig', ['aid' => $aid]);
        }
        $this->aids->delete($aid);

        return $this->redirectToRoute('finding_aids', [], Response::HTTP_SEE_OTHER);
    }

    private function aid(Viewer $viewer, string $code): FindingAid
    {
        return $this->aids->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such finding aid.');
    }
}
