<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\CaptureFacts;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\HeldPrefixes;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** What is held of an address. */
#[AsController]
#[Allow(Right::Read)]
final readonly class AddressController
{
    public function __construct(
        private AddressRepository $addresses,
        private CaptureRepository $captures,
        private HeldPrefixes $held,
        private CaptureFacts $facts,
        private UrlGeneratorInterface $urls,
    ) {
    }

    #[Told('Tells what is held of an address.', body: 'Address', query: ['url' => 'The address.'])]
    #[Needs(Scope::Read)]
    #[Route('/api/addresses', name: 'api_address', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, Request $request): JsonResponse
    {
        $url = Url::tryParse($request->query->getString('url'));
        if (null === $url || !$url->isWeb()) {
            throw new BadRequestHttpException();
        }
        $address = $this->addresses->of($viewer, (string) $url);
        $last = null === $address ? null : $this->captures->last($viewer, $address);

        return Answers::json([
            'url' => (string) $url->withoutFragment(), 'code' => $address?->code, 'held' => $address->captures ?? 0,
            'first' => Answers::moment($address?->firstAt), 'last' => Answers::moment($address?->lastAt),
            'lastAlive' => Answers::moment($address?->lastAliveAt), 'lastStatus' => $last?->status, 'differsFromNow' => null,
        ]);
    }

    /** The newest first. */
    #[Told('Lists the captures of an address, the newest first.', body: 'Captures', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/addresses/{code}/captures', name: 'api_address_captures', requirements: ['code' => Codes::PATTERN],
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function captures(Viewer $viewer, Address $address, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $after = $request->query->getString('after');
        $last = '' === $after ? null : $this->captures->byCode($viewer, $after) ?? throw new BadRequestHttpException();
        $captures = $this->captures->ofAddress($viewer, $address, $last, $most + 1);

        return Answers::list(
            array_map(fn ($capture): array => $this->facts->of($viewer, $capture), $captures), $most,
            fn (): string => $this->urls->generate('api_address_captures', [
                'code' => $address->code, 'after' => $captures[$most - 1]->code, 'limit' => $most,
            ], UrlGeneratorInterface::ABSOLUTE_URL),
        );
    }

    /** Which addresses are held whose digest begins so: whoever asks does not say which one they mean. */
    #[Told('Lists the held addresses whose digest begins so.', body: 'HeldList')]
    #[Needs(Scope::Read)]
    #[Route('/api/held/{prefix}', name: 'api_held', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function held(Viewer $viewer, string $prefix): JsonResponse
    {
        if (1 !== preg_match('/^[0-9a-f]{5}$/D', $prefix)) {
            throw new BadRequestHttpException();
        }

        return Answers::json(['items' => array_map(static fn (array $one): array => [
            'rest' => $one['rest'], 'held' => $one['held'], 'last' => Answers::moment($one['last']), 'lastStatus' => $one['status'],
        ], $this->held->under($viewer, $prefix)), 'next' => null]);
    }
}
