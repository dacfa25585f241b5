<?php

declare(strict_types=1);

namespace Ypomna\App\References\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\References\CitationWriter;
use Ypomna\App\References\DraftStorage;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\References\ReferenceTable;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\UnreadableDraft;

/** What is to be had of the references of a document: the document itself, a table, citations. */
#[Allow(Right::Read)]
final class ReferenceDownloadController extends AbstractController
{
    public function __construct(private readonly ReferenceLists $lists, private readonly DraftStorage $storage)
    {
    }

    #[Route('/references/{code}/document', name: 'reference_document', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function document(ReferenceList $list): Response
    {
        $response = new BinaryFileResponse($this->storage->path($list->code));
        $response->headers->set('Content-Type', 'application/octet-stream');
        $response->headers->set('Content-Disposition', Download::attachment($list->documentName()));

        return $response;
    }

    #[Route('/references/{code}/table.csv', name: 'reference_table', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function table(Viewer $viewer, ReferenceList $list, ReferenceTable $table): Response
    {
        $lines = $table->lines($viewer, $list, $this->permanent(...));

        return Download::streamed($lines, 'text/csv; charset=utf-8', $list->baseName().' references.csv');
    }

    #[Route('/references/{code}/citations', name: 'reference_citations', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function citations(Viewer $viewer, ReferenceList $list, Request $request, CitationWriter $writer): Response
    {
        $styles = $writer->styles();
        $style = $request->query->getString('style');
        $style = isset($styles[$style]) ? $style : (string) array_key_first($styles);
        $rows = $this->lists->rows($viewer, $list, '', 0, DraftReferences::MOST);
        $permanent = $this->permanent(...);
        if ('json' === $request->query->getString('as')) {
            return new JsonResponse(
                (string) json_encode(
                    $writer->items($rows, $permanent),
                    \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
                ),
                Response::HTTP_OK,
                [
                    'Content-Type' => 'application/vnd.citationstyles.csl+json',
                    'Content-Disposition' => Download::attachment($list->baseName().' citations.json'),
                ],
                true,
            );
        }
        try {
            $written = $writer->write($rows, $style, $permanent, $request->getLocale());
            $why = null;
        } catch (UnreadableDraft $e) {
            [$written, $why] = [[], $e->getMessage()];
        }
        if ('text' === $request->query->getString('as')) {
            $lines = implode(
                '', array_map(static fn (array $one): string => $one[0].('' === $one[1] ? '' : ' '.$one[1].' '.$one[2].'.')."\n", $written),
            );

            return new Response(
                $lines,
                Response::HTTP_OK,
                [
                    'Content-Type' => 'text/plain; charset=utf-8',
                    'Content-Disposition' => Download::attachment($list->baseName().' citations.txt'),
                ],
            );
        }

        return $this->render(
            'references/citations.html.twig',
            ['list' => $list, 'styles' => $styles, 'style' => $style, 'written' => $written, 'why' => $why],
            new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY),
        );
    }

    private function permanent(string $code): string
    {
        return $this->generateUrl('read', ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }
}
