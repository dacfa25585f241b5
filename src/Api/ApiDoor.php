<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Http\Authentication\AuthenticationFailureHandlerInterface;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;

/** What a program hears that shows no token, or none that holds: the same for both. */
final readonly class ApiDoor implements AuthenticationEntryPointInterface, AuthenticationFailureHandlerInterface
{
    public function __construct(private Problems $problems)
    {
    }

    public function start(Request $request, ?AuthenticationException $authException = null): Response
    {
        return $this->problems->answer(Response::HTTP_UNAUTHORIZED, ['WWW-Authenticate' => 'Bearer']);
    }

    public function onAuthenticationFailure(Request $request, AuthenticationException $exception): Response
    {
        return $this->start($request, $exception);
    }
}
