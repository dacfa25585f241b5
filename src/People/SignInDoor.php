<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Http\Authenticator\AbstractAuthenticator;
use Symfony\Component\Security\Http\Authenticator\Passport\Passport;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;
use Ypomna\Core\Account\LocalTarget;

/**
 * Where whoever has not signed in is led. Signing in itself is done by the screen for it ({@see SignIn}), which lets people in through this
 * door; no other request signs anybody in.
 */
final class SignInDoor extends AbstractAuthenticator implements AuthenticationEntryPointInterface
{
    public function __construct(private readonly UrlGeneratorInterface $routes)
    {
    }

    public function start(Request $request, ?AuthenticationException $authException = null): Response
    {
        $wanted = $request->isMethodSafe() ? LocalTarget::of($request->getRequestUri()) : null;
        $address = $this->routes->generate('sign_in', null === $wanted || '/' === $wanted ? [] : ['to' => $wanted]);
        if ($request->headers->has('HX-Request')) {
            // What is fetched into a page cannot show another; the whole window goes there.
            return new Response('', Response::HTTP_UNAUTHORIZED, ['HX-Redirect' => $this->routes->generate('sign_in')]);
        }
        if (!\in_array($request->headers->get('Sec-Fetch-Dest', 'document'), ['document', 'iframe'], true)) {
            $fields = ['Content-Type' => 'text/plain; charset=utf-8', 'Cache-Control' => 'no-store'];

            return new Response("Sign in first.\n", Response::HTTP_UNAUTHORIZED, $fields);
        }

        return new RedirectResponse($address, $request->isMethodSafe() ? Response::HTTP_FOUND : Response::HTTP_SEE_OTHER);
    }

    public function supports(Request $request): false
    {
        return false;
    }

    public function authenticate(Request $request): Passport
    {
        throw new AuthenticationException();
    }

    public function onAuthenticationSuccess(Request $request, TokenInterface $token, string $firewallName): null
    {
        return null;
    }

    public function onAuthenticationFailure(Request $request, AuthenticationException $exception): null
    {
        return null;
    }
}
