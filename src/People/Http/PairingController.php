<?php

declare(strict_types=1);

namespace Ypomna\App\People\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\Access\Right;
use Ypomna\App\People\Account;
use Ypomna\App\People\Attempts;
use Ypomna\App\People\Pairings;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\TooManyAttempts;
use Ypomna\App\People\Value\Scope;

/** Browsers and programs that act in one's name: they are paired by a code, and ended. */
final class PairingController extends AbstractController
{
    private const LONGEST = 10_000;
    private const LONGEST_NAME = 120;

    public function __construct(private readonly Pairings $pairings)
    {
    }

    /** Shows a code; those before hold no longer. */
    #[Allow(Right::Keep)]
    #[IsCsrfTokenValid('me')]
    #[Route('/me/pairing', name: 'me_pairing', methods: ['POST'])]
    public function begin(#[CurrentUser] Account $account, PersonChanges $changes): Response
    {
        return $this->render('people/pairing.html.twig', [
            'code' => $this->pairings->begin($changes->own($account)), 'minutes' => Pairings::MINUTES,
        ], new Response(headers: ['Cache-Control' => 'no-store']));
    }

    #[Allow(Right::Read)]
    #[IsCsrfTokenValid('me')]
    #[Route('/me/token', name: 'me_token_end', methods: ['POST'])]
    public function end(#[CurrentUser] Account $account, Tokens $tokens, Request $request): Response
    {
        $id = $request->request->getString('token');
        if (!$tokens->endOwn($account->name, $account->person, $id)) {
            throw $this->createNotFoundException('There is no such token.');
        }

        return $this->redirectToRoute('me', ['_fragment' => 'programs'], Response::HTTP_SEE_OTHER);
    }

    /** A browser shows the code, and gets its way in. It can be asked by programs alone: what it takes no form of another site sends. */
    #[OpenToAnybody]
    #[Route('/pair', name: 'pair', methods: ['POST'])]
    public function pair(Request $request, Attempts $attempts): Response
    {
        $type = strtolower(trim(explode(';', $request->headers->get('Content-Type') ?? '')[0]));
        $said = 'application/json' === $type && \strlen($request->getContent()) <= self::LONGEST
            ? json_decode($request->getContent(), true, 4) : null;
        $code = \is_array($said) && \is_string($said['code'] ?? null) ? $said['code'] : null;
        $name = \is_array($said) && \is_string($said['name'] ?? null) ? $said['name'] : '';
        if (null === $code) {
            return self::answer(['error' => 'A code is wanted.'], Response::HTTP_BAD_REQUEST);
        }
        try {
            $attempts->pairing((string) $request->getClientIp());
        } catch (TooManyAttempts $e) {
            return self::answer(['error' => 'Too many codes were tried. Wait, and try again.'], Response::HTTP_TOO_MANY_REQUESTS, [
                'Retry-After' => (string) $e->seconds,
            ]);
        }
        $name = mb_substr(trim((string) preg_replace('/[\p{C}\s]+/u', ' ', mb_scrub($name))), 0, self::LONGEST_NAME);
        $paired = $this->pairings->pair($code, $name);
        if (null === $paired) {
            return self::answer(
                ['error' => 'There is no such code, or its five minutes are over. Ask for a new one on your own page.'],
                Response::HTTP_FORBIDDEN,
            );
        }

        return self::answer([
            'token' => $paired[1], 'person' => $paired[0]->name,
            'home' => $this->generateUrl('first', [], UrlGeneratorInterface::ABSOLUTE_URL),
            'scopes' => array_map(static fn (Scope $scope): string => $scope->value, Pairings::SCOPES), 'days' => Pairings::DAYS,
        ], Response::HTTP_CREATED);
    }

    /**
     * @param array<string, mixed> $said
     * @param array<string, string> $fields
     */
    private static function answer(array $said, int $status, array $fields = []): JsonResponse
    {
        return new JsonResponse($said, $status, $fields + ['Cache-Control' => 'no-store']);
    }
}
