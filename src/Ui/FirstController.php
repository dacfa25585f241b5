<?php

declare(strict_types=1);

namespace Ypomna\App\Ui;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Catalogue\AddressHistory;

/** The first screen: one box, and what was kept last. */
final class FirstController extends AbstractController
{
    private const RECENT = 12;

    #[Route('/', name: 'first', methods: ['GET'])]
    public function first(AddressHistory $history, JobList $jobs): Response
    {
        return $this->render('ui/first.html.twig', ['recent' => $history->recent(self::RECENT), 'totals' => $history->totals(), 'jobs' => $jobs->open()]);
    }

    #[Route('/health', name: 'health', methods: ['GET'])]
    public function health(): Response
    {
        return new Response("ok\n", Response::HTTP_OK, ['Content-Type' => 'text/plain']);
    }
}
