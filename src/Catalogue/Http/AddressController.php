<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Http;

use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressHistory;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\ColumnDrawing;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Event\WordsAsked;
use Ypomna\App\Catalogue\JoinedAddresses;
use Ypomna\App\Catalogue\Value\CaptureMark;
use Ypomna\App\Catalogue\Value\HistoryView;
use Ypomna\App\Catalogue\WordSearch;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\AddressQuery;
use Ypomna\Core\Address\InvalidAddress;

/** From an address, in any spelling, to what is held of it. */
#[Allow(Right::Read)]
final class AddressController extends AbstractController
{
    public function __construct(
        private readonly CaptureRepository $captures,
        private readonly AddressRepository $addresses,
        private readonly AddressHistory $history,
        private readonly WordSearch $words,
        private readonly JoinedAddresses $joined,
        private readonly EventDispatcherInterface $events,
    ) {
    }

    #[Route('/find', name: 'find', methods: ['GET'])]
    public function find(Viewer $viewer, Request $request): Response
    {
        $typed = trim($request->query->getString('q'));
        try {
            $wanted = AddressQuery::read($typed, AddressKeys::rules());
        } catch (InvalidAddress $e) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        $url = $wanted->url;
        if (null === $url) {
            $after = $request->query->getString('after');
            $asked = new WordsAsked($viewer, $typed);
            if (null === $wanted->range) {
                $this->events->dispatch($asked);
            }
            if (null !== $asked->leadsTo) {
                return $this->redirectToRoute($asked->leadsTo, ['q' => $typed]);
            }
            $found = null === $wanted->range
                ? $this->words->find($viewer, $wanted->words, $wanted->years)
                : $this->addresses->under($viewer, $wanted->range, $after);
            if ([] === $found && null !== $asked->offers) {
                return $this->redirectToRoute($asked->offers, ['q' => $typed]);
            }
            $more = null !== $wanted->range && AddressRepository::PAGE === \count($found) ? $found[\count($found) - 1]->code : null;

            return $this->render(
                'catalogue/found.html.twig',
                ['typed' => $typed, 'found' => $found, 'after' => $after, 'more' => $more],
                new Response('', [] === $found ? Response::HTTP_NOT_FOUND : Response::HTTP_OK),
            );
        }
        $address = $this->addresses->of($viewer, (string) $url);
        if (null !== $address) {
            return $this->redirectToRoute('address', ['code' => $address->code]);
        }

        return $this->render(
            'catalogue/never_kept.html.twig',
            [
                'url' => (string) $url, 'variants' => $this->addresses->variants($viewer, $url),
                'near' => $this->addresses->near($viewer, $url),
            ],
            new Response('', Response::HTTP_NOT_FOUND),
        );
    }

    #[Route('/address/{code}', name: 'address', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function show(Viewer $viewer, Address $address, Request $request): Response
    {
        $query = $request->query;
        $before = CaptureMark::parse($query->getString('before'));
        $view = HistoryView::read(
            $query->getString('from'), $query->getString('to'), $query->getString('state'), $query->getString('changed'),
        );

        $group = $this->joined->of($viewer, $address);
        $lastAlive = $this->captures->lastAlive($viewer, $address);

        return $this->render('catalogue/address.html.twig', [
            'address' => $address,
            'joined' => array_values(array_filter($group, static fn (Address $one): bool => $one->code !== $address->code)),
            'suggestions' => $this->joined->suggestions($viewer, $address, $lastAlive),
            'total' => array_sum(array_map(static fn (Address $one): int => $one->captures, $group)),
            'first_at' => min(array_map(static fn (Address $one): \DateTimeImmutable => $one->firstAt, $group)),
            'last_at' => max(array_map(static fn (Address $one): \DateTimeImmutable => $one->lastAt, $group)),
            'view' => $view,
            'spans' => $this->history->spans($viewer, $address, $view),
            'column' => ColumnDrawing::of($this->history->layers($viewer, $address, $view)),
            'lines' => $this->history->lines($viewer, $address, $before, $view),
            'page_size' => AddressHistory::PAGE,
            'before' => $before,
            'last' => $this->captures->last($viewer, $address),
            'last_alive' => $lastAlive,
        ]);
    }
}
