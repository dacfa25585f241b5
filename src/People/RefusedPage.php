<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Authorization\AccessDeniedHandlerInterface;
use Twig\Environment;

/** Says to somebody who has signed in that their role does not reach that far. */
final readonly class RefusedPage implements AccessDeniedHandlerInterface
{
    public function __construct(private Environment $twig)
    {
    }

    public function handle(Request $request, AccessDeniedException $accessDeniedException): Response
    {
        return new Response(
            $this->twig->render('people/not_allowed.html.twig'), Response::HTTP_FORBIDDEN, ['Cache-Control' => 'no-store'],
        );
    }
}
