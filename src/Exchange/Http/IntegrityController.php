<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\HoldingsTotals;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\LedgerMirror;
use Ypomna\App\Store\MirroredLedger;

/** Whether the holdings are what they were, and the ledger that says so. Both tell of everything that is held. */
#[Allow(Right::Guard)]
final class IntegrityController extends AbstractController
{
    private const STOP_POLLING = 286;
    private const LINES = 20;

    public function __construct(private readonly Verifier $verifier)
    {
    }

    #[Route('/integrity', name: 'integrity', methods: ['GET'])]
    public function show(Viewer $viewer, HoldingsTotals $totals, LedgerMirror $ledger): Response
    {
        return $this->render(
            'exchange/integrity.html.twig',
            ['verification' => $this->verifier->latest(), 'totals' => $totals->of($viewer), 'lines' => $ledger->latest(self::LINES)],
        );
    }

    #[Route('/integrity/verify', name: 'integrity_verify', methods: ['POST'])]
    #[IsCsrfTokenValid('verify')]
    public function verify(Actor $actor): Response
    {
        $this->verifier->ask($actor);

        return $this->redirectToRoute('integrity', [], Response::HTTP_SEE_OTHER);
    }

    #[Route('/integrity/progress', name: 'integrity_progress', methods: ['GET'])]
    public function progress(): Response
    {
        $latest = $this->verifier->latest();

        return $this->render(
            'exchange/_verification.html.twig',
            ['verification' => $latest],
            new Response('', null === $latest || null !== $latest->finishedAt ? self::STOP_POLLING : Response::HTTP_OK),
        );
    }

    /** The ledger as it stands on the disk. */
    #[Route('/integrity/ledger', name: 'integrity_ledger', methods: ['GET'])]
    public function ledger(MirroredLedger $ledger): Response
    {
        return new StreamedResponse(static function () use ($ledger): void {
            foreach ($ledger->ledger()->lines() as $line) {
                echo $line, "\n";
            }
        }, Response::HTTP_OK,
            ['Content-Type' => 'text/plain; charset=utf-8', 'Content-Disposition' => 'attachment; filename="ledger.txt"']);
    }
}
