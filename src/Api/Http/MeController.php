<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\People\TokenAccount;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;

/** Who a program is. */
#[AsController]
final class MeController
{
    #[Allow(Right::Read)]
    #[Told('Tells who the token acts for.', body: 'Me')]
    #[Needs(null)]
    #[Route('/api/me', name: 'api_me', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function me(#[CurrentUser] TokenAccount $account): JsonResponse
    {
        return new JsonResponse([
            'name' => $account->name, 'role' => $account->role->value,
            'scopes' => array_map(static fn (Scope $scope): string => $scope->value, $account->token->scopes),
        ], headers: ['Cache-Control' => 'no-store']);
    }

    #[Allow(Right::Read)]
    #[Told('Ends the token that is shown: with it nobody gets in any more.', 204)]
    #[Needs(null)]
    #[Route('/api/me/token', name: 'api_me_token_end', defaults: FetchMetadataGuard::OPEN, methods: ['DELETE'])]
    public function end(#[CurrentUser] TokenAccount $account, Tokens $tokens): Response
    {
        $tokens->endOwn($account->name, $account->token->person, $account->token->id);

        return new Response('', Response::HTTP_NO_CONTENT);
    }
}
