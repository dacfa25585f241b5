<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\JoinedAddresses;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

use function Symfony\Component\Translation\t;

/** Joining addresses to one history, and parting them again. */
#[Allow(Right::Guard)]
final class JoinController extends AbstractController
{
    public function __construct(private readonly AddressRepository $addresses, private readonly JoinedAddresses $joined)
    {
    }

    #[Route('/address/{code}/join', name: 'address_join', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('join')]
    public function join(Actor $actor, Viewer $viewer, Address $address, Request $request): Response
    {
        $form = $request->request;
        $typed = trim($form->getString('other'));
        try {
            $other = $this->addresses->byCode($viewer, $typed) ?? $this->addresses->of($viewer, (string) Url::typed($typed));
        } catch (InvalidAddress $e) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => $e->getMessage()],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        if (null === $other) {
            return $this->render(
                'catalogue/no_address.html.twig',
                [
                    'typed' => $typed,
                    'why' => t('catalogue.no_history', ['typed' => mb_strimwidth($typed, 0, 200, '…')]),
                ],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        if ($other->code === $address->code) {
            return $this->render(
                'catalogue/no_address.html.twig',
                ['typed' => $typed, 'why' => t('catalogue.same_address')],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
        $this->joined->join($actor, $viewer, $address, $other, $form->getString('reason'));

        return $this->redirectToRoute('address', ['code' => $address->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/address/{code}/part', name: 'address_part', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('join')]
    public function part(Viewer $viewer, string $code, Request $request): Response
    {
        $this->joined->part($this->addresses->byCode($viewer, $request->request->getString('other'))
            ?? throw $this->createNotFoundException('There is no such address in the catalogue.'));

        return $this->redirectToRoute('address', ['code' => $code], Response::HTTP_SEE_OTHER);
    }
}
