<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Files that people have: handed in through the window, many at once. */
#[Allow(Right::Keep)]
final class ImportController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(private readonly Arrivals $arrivals, private readonly TranslatorInterface $translator)
    {
    }

    #[Route('/import', name: 'import', methods: ['GET'])]
    public function show(Viewer $viewer): Response
    {
        return $this->render('exchange/import.html.twig', $this->report($viewer));
    }

    #[Route('/import/report', name: 'import_report', methods: ['GET'])]
    public function progress(Viewer $viewer): Response
    {
        $report = $this->report($viewer);

        return $this->render(
            'exchange/_arrivals.html.twig', $report, new Response('', $report['open'] ? Response::HTTP_OK : self::STOP_POLLING),
        );
    }

    /** The plain form, for windows without our script. */
    #[Route('/import', name: 'import_form', methods: ['POST'])]
    #[IsCsrfTokenValid('import')]
    public function form(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $refused = [];
        foreach ($request->files->all('files') as $file) {
            if (!$file instanceof UploadedFile) {
                continue;
            }
            try {
                $this->whole($file, $actor, '1' === $request->request->getString('confidential'));
            } catch (UnusableFile $e) {
                $refused[] = $e;
            }
        }
        if ([] !== $refused) {
            return $this->render(
                'exchange/import.html.twig',
                ['refused' => $refused] + $this->report($viewer),
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->redirectToRoute('import', [], Response::HTTP_SEE_OTHER);
    }

    /**
     * A file that came in one piece.
     *
     * @throws UnusableFile
     */
    private function whole(UploadedFile $file, Actor $actor, bool $confidential): void
    {
        $body = $file->isValid() ? fopen($file->getPathname(), 'r') : false;
        if (false === $body) {
            throw new UnusableFile(
                'exchange.file_did_not_come', ['file' => $file->getClientOriginalName(), 'reason' => $file->getErrorMessage()],
            );
        }
        $arrival = $this->arrivals->begin(
            $actor, $file->getClientOriginalName(), (int) $file->getSize(), time(), (string) hash_file('sha256', $file->getPathname()),
            new SaidOfArrival(confidential: $confidential),
        );
        $this->arrivals->add($arrival, 0, $body);
        $this->arrivals->complete($arrival);
    }

    /** A file begins to come: says under which code, and how much of it is there already. */
    #[Route('/import/begin', name: 'import_begin', methods: ['POST'])]
    public function begin(Actor $actor, Request $request): Response
    {
        return $this->answer($request, function () use ($actor, $request): array {
            $arrival = $this->arrivals->begin(
                $actor,
                $request->request->getString('name'),
                $request->request->getInt('bytes'),
                $request->request->getInt('modified'),
                null === $request->request->get('sha256') ? null : $request->request->getString('sha256'),
                new SaidOfArrival(confidential: '1' === $request->request->getString('confidential')),
            );

            return ['code' => $arrival->code, 'there' => $this->arrivals->size($arrival)];
        });
    }

    /** A piece of it; the last one completes it. */
    #[Route('/import/{code}/{at}', name: 'import_piece', requirements: ['code' => Codes::PATTERN, 'at' => '\d{1,15}'], methods: ['PUT'])]
    public function piece(Actor $actor, string $code, int $at, Request $request): Response
    {
        return $this->answer($request, function () use ($actor, $code, $at, $request): array {
            $arrival = $this->arrivals->byCode($code);
            if (null === $arrival || ArrivalState::Coming !== $arrival->state || !$this->arrivals->isOf($arrival, $actor)) {
                throw new UnusableFile('exchange.file_is_not_coming');
            }
            $there = $this->arrivals->add($arrival, $at, $request->getContent(true), $request->headers->get('X-Piece-Sha256'));
            if ($there === $arrival->bytes) {
                $this->arrivals->complete($arrival);
            }

            return ['there' => $there];
        });
    }

    /**
     * @param \Closure(): array<string, int|string> $act
     */
    private function answer(Request $request, \Closure $act): Response
    {
        if (!$this->isCsrfTokenValid('import', (string) $request->headers->get('X-Token'))) {
            return new JsonResponse(['error' => $this->translator->trans('exchange.page_was_open_too_long')], Response::HTTP_FORBIDDEN);
        }
        try {
            return new JsonResponse($act());
        } catch (UnusableFile $e) {
            return new JsonResponse(['error' => $e->trans($this->translator)], Response::HTTP_CONFLICT);
        }
    }

    /**
     * @return array{arrivals: list<Arrival>, counts: array<string, int>, open: bool}
     */
    private function report(Viewer $viewer): array
    {
        $arrivals = $this->arrivals->latest($viewer);
        $counts = array_count_values(array_map(static fn (Arrival $arrival): string => $arrival->state->value, $arrivals));

        return [
            'arrivals' => $arrivals,
            'counts' => $counts,
            'open' => isset($counts[ArrivalState::Coming->value]) || isset($counts[ArrivalState::Waiting->value]),
        ];
    }
}
