<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ControllerEvent;
use Symfony\Component\HttpKernel\Exception\TooManyRequestsHttpException;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Core\Exception\InsufficientAuthenticationException;
use Ypomna\App\People\TokenAccount;

/** Stands behind the guard of all routes: how often a token may ask, and how far it reaches. A route without a scope is closed. */
#[AsEventListener(priority: 90)]
final readonly class ProgramGuard
{
    public function __construct(
        private Security $security,
        #[Autowire(service: 'limiter.api')] private RateLimiterFactoryInterface $limiter,
    ) {
    }

    public function __invoke(ControllerEvent $event): void
    {
        if (!$event->isMainRequest() || !ApiPath::is($event->getRequest())) {
            return;
        }
        $account = $this->security->getUser();
        if (!$account instanceof TokenAccount) {
            throw new InsufficientAuthenticationException();
        }
        $limit = $this->limiter->create($account->token->id)->consume();
        if (!$limit->isAccepted()) {
            throw new TooManyRequestsHttpException(max(1, $limit->getRetryAfter()->getTimestamp() - time()));
        }
        $needed = $event->getAttributes(Needs::class)[0] ?? throw new AccessDeniedException();
        if (null !== $needed->scope && !$account->has($needed->scope)) {
            throw new AccessDeniedException();
        }
    }
}
