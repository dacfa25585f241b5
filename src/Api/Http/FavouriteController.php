<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\Value\Favourite;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** What a person wants at hand. */
#[AsController]
#[Allow(Right::Read)]
final readonly class FavouriteController
{
    private const THING = ['kind' => 'address|capture|dossier', 'code' => Codes::PATTERN];

    public function __construct(private Favourites $favourites, private TranslatorInterface $translator)
    {
    }

    #[Told('Lists favourites: what is pinned first, then the one that was marked last.', body: 'Favourites')]
    #[Needs(Scope::Read)]
    #[Route('/api/favourites', name: 'api_favourites', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer): JsonResponse
    {
        return Answers::json(['items' => array_map(self::told(...), $this->favourites->of($viewer)), 'next' => null]);
    }

    #[Told('Makes something a favourite, or says whether it is pinned.', body: 'Favourite', takes: 'FavouriteChange')]
    #[Needs(Scope::Write)]
    #[Route('/api/favourites/{kind}/{code}', name: 'api_favourite', requirements: self::THING, defaults: FetchMetadataGuard::OPEN,
        methods: ['PUT'])]
    public function add(Viewer $viewer, string $kind, string $code, Request $request): JsonResponse
    {
        $kind = FavouriteKind::from($kind);
        if (!$this->favourites->isThere($viewer, $kind, $code)) {
            throw new NotFoundHttpException();
        }
        $fields = Fields::of($request);
        $pinned = $fields->bool('pinned');
        $fields->done();
        try {
            $this->favourites->add($viewer, $kind, $code, $pinned);
        } catch (CannotChange $e) {
            throw InvalidFields::at('', $e->trans($this->translator));
        }

        return Answers::json(self::told($this->favourites->one($viewer, $kind, $code) ?? throw new NotFoundHttpException()));
    }

    #[Told('Has something be no favourite any more.', 204)]
    #[Needs(Scope::Write)]
    #[Route('/api/favourites/{kind}/{code}', name: 'api_favourite_remove', requirements: self::THING,
        defaults: FetchMetadataGuard::OPEN, methods: ['DELETE'])]
    public function remove(Viewer $viewer, string $kind, string $code): Response
    {
        if (null === $this->favourites->one($viewer, FavouriteKind::from($kind), $code)) {
            throw new NotFoundHttpException();
        }
        $this->favourites->remove($viewer, FavouriteKind::from($kind), $code);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    /** @return array<string, mixed> */
    private static function told(Favourite $one): array
    {
        return [
            'kind' => $one->kind->value, 'code' => $one->code, 'pinned' => $one->pinned, 'title' => $one->title, 'url' => $one->url,
            'at' => Answers::moment($one->at),
        ];
    }
}
