<?php

declare(strict_types=1);

namespace Ypomna\App\References\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\Value\CheckLine;
use Ypomna\App\References\DraftStorage;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\UnreadableDraft;

/** All references of a document at once: how they stand, what is held of them, and the document repaired. */
#[Allow(Right::Read)]
final class ReferenceController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(
        private readonly ReferenceLists $lists,
        private readonly CheckRepository $checks,
        private readonly NewestFirst $newest,
    ) {
    }

    #[Route('/references', name: 'references', methods: ['GET'])]
    public function all(): Response
    {
        return $this->lists();
    }

    #[Allow(Right::Keep)]
    #[Route('/references', name: 'reference_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('references')]
    public function begin(Actor $actor, Request $request): Response
    {
        $text = $request->request->getString('text');
        $file = $request->files->get('file');
        $made = null;
        try {
            if ($file instanceof UploadedFile) {
                if (!$file->isValid() || $file->getSize() > DraftStorage::LARGEST) {
                    throw new UnreadableDraft(\sprintf(
                        'The file did not arrive: documents of up to %d MB are taken.', intdiv(DraftStorage::LARGEST, 1_048_576),
                    ));
                }
                $list = $this->lists->begin($actor, $file->getPathname(), $file->getClientOriginalName());
            } else {
                $made = tempnam(sys_get_temp_dir(), 'ypomna-pasted-');
                if (false === $made || false === file_put_contents($made, $text)) {
                    throw new \RuntimeException('The text cannot be written.');
                }
                $list = $this->lists->begin($actor, $made, '');
            }
        } catch (UnreadableDraft $e) {
            return $this->lists(mb_strcut($text, 0, 200_000), $e->getMessage());
        } finally {
            if (\is_string($made)) {
                @unlink($made);
            }
        }

        return $this->redirectToRoute('reference_list', ['code' => $list->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/references/{code}', name: 'reference_list', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, ReferenceList $list, Request $request): Response
    {
        return $this->render('references/list.html.twig', $this->shown($viewer, $list, $request));
    }

    #[Route('/references/{code}/progress', name: 'reference_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, ReferenceList $list, Request $request): Response
    {
        $shown = $this->shown($viewer, $list, $request);

        return $this->render(
            'references/_list.html.twig', $shown, new Response('', $shown['busy'] ? Response::HTTP_OK : self::STOP_POLLING),
        );
    }

    #[Allow(Right::Keep)]
    #[Route('/references/{code}', name: 'reference_act', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('references')]
    public function act(Actor $actor, ReferenceList $list, Request $request): Response
    {
        $form = $request->request;
        switch ($form->getString('act')) {
            case 'ask':
                $this->lists->ask($list);
                break;
            case 'stop':
                $this->lists->stop($list);
                break;
            case 'elsewhere':
                $this->lists->askElsewhere($list);
                break;
            case 'keep':
                $kept = $this->lists->keepAlive($actor, $list);

                return $this->redirectToRoute(
                    ...[
                        ...(null === $kept ? ['reference_list', ['code' => $list->code]] : ['list', ['code' => $kept->code]]),
                        Response::HTTP_SEE_OTHER,
                    ],
                );
            case 'remove':
                if ('1' === $form->getString('sure')) {
                    $this->lists->remove($list);

                    return $this->redirectToRoute('references', [], Response::HTTP_SEE_OTHER);
                }

                return $this->render('references/remove.html.twig', ['list' => $list]);
            default:
                throw $this->createNotFoundException('There is no such thing to do with references.');
        }

        return $this->redirectToRoute('reference_list', ['code' => $list->code], Response::HTTP_SEE_OTHER);
    }

    /**
     * @return array{
     *     list: ReferenceList, counts: array<string, int>, rows: list<ReferenceRow>, checks: array<int, CheckLine>, word: string,
     *     after: int, busy: bool, page_size: int,
     * }
     */
    private function shown(Viewer $viewer, ReferenceList $list, Request $request): array
    {
        $word = $request->query->getString('only');
        $after = max(0, $request->query->getInt('after'));
        $counts = $this->lists->counts($list);
        $rows = $this->lists->rows($viewer, $list, $word, $after);

        return [
            'list' => $list, 'counts' => $counts, 'rows' => $rows,
            'checks' => $this->checks->last(array_values(array_unique(array_map(
                static fn (ReferenceRow $row): int => $row->live->id, $rows,
            )))),
            'word' => $word, 'after' => $after, 'busy' => $counts['open'] > 0 || null === $list->matchedAt,
            'page_size' => ReferenceLists::PAGE,
        ];
    }

    private function lists(string $given = '', ?string $why = null): Response
    {
        $lists = $this->newest->of(ReferenceList::class);

        return $this->render('references/lists.html.twig', [
            'lists' => $lists,
            'counts' => $this->lists->countsOf(array_map(static fn (ReferenceList $list): int => (int) $list->id, $lists)),
            'given' => $given, 'why' => $why,
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }
}
