<?php

declare(strict_types=1);

namespace Ypomna\App\Archives\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Archives\InvalidArchive;
use Ypomna\App\Archives\Message\FetchMemento;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

/** Asking other archives, taking in what they hold, and which of them are asked. */
#[Allow(Right::Keep)]
final class ArchivesController extends AbstractController
{
    /** Captures that are shown of one archive, and taken in at once. */
    private const SHOWN = 200;
    private const MOST = 50;

    public function __construct(private readonly OtherArchives $archives, private readonly AddressRepository $addresses)
    {
    }

    #[Route('/elsewhere', name: 'elsewhere', defaults: FetchMetadataGuard::ACTS, methods: ['GET'])]
    public function elsewhere(Viewer $viewer, Request $request): Response
    {
        $typed = trim($request->query->getString('q'));
        try {
            $url = Url::typed($typed)->withoutFragment();
        } catch (InvalidAddress $e) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->render(
            'archives/elsewhere.html.twig',
            [
                'url' => (string) $url, 'told' => $this->archives->whatTheyHold($url), 'shown' => self::SHOWN,
                'address' => $this->addresses->of($viewer, (string) $url),
            ],
        );
    }

    #[Route('/elsewhere', name: 'elsewhere_import', methods: ['POST'])]
    #[IsCsrfTokenValid('elsewhere')]
    public function import(Actor $actor, Request $request, Arrivals $arrivals, MessageBusInterface $bus): Response
    {
        $url = Url::tryParse($request->request->getString('url'));
        $chosen = \array_slice($request->request->all('held'), 0, self::MOST);
        if (null === $url || !$url->isWeb() || [] === $chosen) {
            return $this->redirectToRoute('elsewhere', ['q' => $request->request->getString('url')], Response::HTTP_SEE_OTHER);
        }
        foreach ($chosen as $one) {
            [$code, $memento] = explode(' ', \is_string($one) ? $one : '', 2) + [1 => ''];
            $archive = $this->archives->byCode($code);
            $at = Url::tryParse($memento);
            if (null !== $archive && null !== $at && $at->isWeb()) {
                $arrival = $arrivals->expect($actor, \sprintf(
                    '%s of %s.warc.gz', $archive->name, strtr(mb_strimwidth($url->host.rtrim($url->path, '/'), 0, 120), '/', '-'),
                ));
                $bus->dispatch(new FetchMemento((int) $arrival->id, $code, (string) $url, (string) $at));
            }
        }

        return $this->redirectToRoute('import', [], Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Read)]
    #[Route('/archives', name: 'archives', methods: ['GET'])]
    public function list(): Response
    {
        return $this->render('archives/list.html.twig', ['archives' => $this->archives->all(), 'given' => [], 'why' => null]);
    }

    #[Route('/archives', name: 'archives_add', methods: ['POST'])]
    #[IsCsrfTokenValid('archives')]
    public function add(Actor $actor, Request $request): Response
    {
        $form = $request->request;
        $given = ['name' => $form->getString('name'), 'gate' => $form->getString('gate'), 'map' => $form->getString('map')];
        try {
            $this->archives->add($actor, $given['name'], $given['gate'], $given['map']);
        } catch (InvalidArchive $e) {
            return $this->render(
                'archives/list.html.twig',
                ['archives' => $this->archives->all(), 'given' => $given, 'why' => $e],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }

        return $this->redirectToRoute('archives', [], Response::HTTP_SEE_OTHER);
    }

    #[Route('/archives/{code}', name: 'archives_ask', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('archives')]
    public function askOrNot(Actor $actor, string $code, Request $request): Response
    {
        $this->archives->askOrNot(
            $actor,
            $this->archives->byCode($code) ?? throw $this->createNotFoundException('There is no such archive.'),
            '1' === $request->request->getString('asked'),
        );

        return $this->redirectToRoute('archives', [], Response::HTTP_SEE_OTHER);
    }
}
