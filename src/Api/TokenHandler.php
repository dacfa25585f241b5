<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\Security\Core\Exception\BadCredentialsException;
use Symfony\Component\Security\Http\AccessToken\AccessTokenHandlerInterface;
use Symfony\Component\Security\Http\Authenticator\Passport\Badge\UserBadge;
use Ypomna\App\People\TokenAccount;
use Ypomna\App\People\Tokens;

/** Finds whose a token is. It comes in the Authorization field alone (RFC 6750, clause 2.1), never in an address. */
final readonly class TokenHandler implements AccessTokenHandlerInterface
{
    public function __construct(private Tokens $tokens)
    {
    }

    public function getUserBadgeFrom(#[\SensitiveParameter] string $accessToken): UserBadge
    {
        $account = $this->tokens->account($accessToken) ?? throw new BadCredentialsException();

        return new UserBadge($account->getUserIdentifier(), static fn (): TokenAccount => $account);
    }
}
