<?php

declare(strict_types=1);

namespace Ypomna\App\References\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\References\DraftRepair;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\Repairs;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\UnreadableDraft;

use function Symfony\Component\Translation\t;

/** The document given back, with references led to where the page can still be read. */
#[Allow(Right::Read)]
final class RepairController extends AbstractController
{
    public function __construct(
        private readonly Repairs $repairs,
        private readonly DraftRepair $repair,
        private readonly DataFolder $folder,
    ) {
    }

    #[Route('/references/{code}/repair', name: 'reference_repair', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function repair(Viewer $viewer, ReferenceList $list): Response
    {
        return $this->render(
            'references/repair.html.twig',
            [
                'list' => $list,
                'rows' => $this->repairs->possible($viewer, $list),
                'altered' => null === $list->repairedAt ? [] : $this->repair->altered($viewer, $list),
                'why' => null,
            ],
        );
    }

    #[Allow(Right::Keep)]
    #[Route('/references/{code}/repair', name: 'reference_settle', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('references')]
    public function choose(Viewer $viewer, ReferenceList $list, Request $request): Response
    {
        $ticked = array_fill_keys(array_filter($request->request->all('r'), \is_string(...)), true);
        $repaired = $this->repairs->settle($viewer, $list, static fn (ReferenceRow $row): bool => isset($ticked[(string) $row->id]));
        if (0 === $repaired) {
            return $this->render(
                'references/repair.html.twig',
                [
                    'list' => $list, 'rows' => $this->repairs->possible($viewer, $list), 'altered' => [],
                    'why' => t('references.nothing_ticked'),
                ],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->redirectToRoute('reference_repair', ['code' => $list->code, '_fragment' => 'repaired'], Response::HTTP_SEE_OTHER);
    }

    #[Route('/references/{code}/repaired', name: 'reference_repaired', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function repaired(Viewer $viewer, ReferenceList $list, Request $request): Response
    {
        $path = $this->folder->newWork('repaired');
        try {
            $this->repair->write($viewer, $list, $path, $request->getLocale());
        } catch (UnreadableDraft $e) {
            @unlink($path);

            return $this->render(
                'references/repair.html.twig',
                ['list' => $list, 'rows' => $this->repairs->possible($viewer, $list), 'altered' => [], 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        // Given from here, not by the server in front: the file has no name any more when that would read it.
        $file = fopen($path, 'r');
        $bytes = (string) filesize($path);
        unlink($path);
        $response = Download::streamed(
            Download::pieces($file), 'application/octet-stream', $list->baseName().' repaired.'.$list->format->extension(),
        );
        $response->headers->set('Content-Length', $bytes);

        return $response;
    }

    #[Route(
        '/references/{code}/alterations.csv', name: 'reference_alterations', requirements: ['code' => Codes::PATTERN], methods: ['GET'],
    )]
    public function alterations(Viewer $viewer, ReferenceList $list): Response
    {
        return Download::streamed($this->repair->table($viewer, $list), 'text/csv; charset=utf-8', $list->baseName().' alterations.csv');
    }
}
