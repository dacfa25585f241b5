<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\TooManyRequestsHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Api\Value\GivenFormat;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\ExportFailed;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\Viewer;

/** Giving out: what goes into a parcel and how, and how far it is. */
#[AsController]
#[Allow(Right::Read)]
final readonly class ParcelController
{
    public const MOST_ADDRESSES = 200;
    /** When to ask again while too many wait. */
    private const LATER_SECONDS = 60;
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private Parcels $parcels,
        private CaptureLists $captures,
        private AddressRepository $addresses,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Has captures put together for giving out.', 202, 'Parcel', 'ParcelRequest', also: [409])]
    #[Needs(Scope::Export, Right::Keep)]
    #[Route('/api/parcels', name: 'api_parcel_ask', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function ask(Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $captures = $fields->texts('captures', ParcelOptions::MOST_CAPTURES, 16) ?? [];
        $addresses = $fields->texts('addresses', self::MOST_ADDRESSES, 16) ?? [];
        $wish = new ParcelOptions(
            $captures, $addresses, $fields->bool('everything') ?? false,
            ($fields->one('format', GivenFormat::class) ?? GivenFormat::Warc)->value, $fields->bool('scripts') ?? false,
        );
        $seen = $fields->isWrong() ? [] : $this->captures->facts($viewer, $captures);
        foreach ($fields->isWrong() ? [] : $captures as $n => $code) {
            if (!isset($seen[$code])) {
                $fields->wrong('captures/'.$n, 'There is no such capture.');
            }
        }
        foreach ($addresses as $n => $code) {
            if (null === $this->addresses->byCode($viewer, $code)) {
                $fields->wrong('addresses/'.$n, 'There is no such address.');
            }
        }
        $fields->done();
        try {
            $parcel = $this->parcels->ask($viewer, $wish);
        } catch (ExportFailed $e) {
            throw match ($e->key) {
                'exchange.everything_is_for_custodians' => new AccessDeniedHttpException(),
                'exchange.exports_are_waiting' => new TooManyRequestsHttpException(self::LATER_SECONDS),
                default => InvalidFields::at('', $e->trans($this->translator)),
            };
        }

        return Answers::json($this->told($parcel), Response::HTTP_ACCEPTED, [
            'Location' => $this->urls->generate('api_parcel', ['code' => $parcel->code]),
        ]);
    }

    #[Told('Tells how far a parcel is; its files are fetched with a token of the same scope.', body: 'Parcel')]
    #[Needs(Scope::Export)]
    #[Route('/api/parcels/{code}', name: 'api_parcel', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Parcel $parcel): JsonResponse
    {
        return Answers::json($this->told($parcel));
    }

    /** @return array<string, mixed> */
    private function told(Parcel $parcel): array
    {
        return [
            'code' => $parcel->code, 'title' => $parcel->title, 'state' => $parcel->state->value, 'done' => $parcel->done,
            'captures' => $parcel->captures, 'bytes' => $parcel->bytes, 'askedAt' => Answers::moment($parcel->askedAt),
            'finishedAt' => Answers::moment($parcel->finishedAt), 'leftOut' => $parcel->leftOut,
            'reason' => null === $parcel->message ? null : Explanation::of($parcel->message)->trans($this->translator),
            'files' => array_map(fn (array $file): array => $file + [
                'href' => $this->urls->generate(
                    'parcel_file', ['code' => $parcel->code, 'name' => $file['name']], UrlGeneratorInterface::ABSOLUTE_URL,
                ),
            ], $parcel->files),
        ];
    }
}
