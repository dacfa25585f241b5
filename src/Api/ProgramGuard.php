<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ControllerArgumentsEvent;
use Symfony\Component\HttpKernel\Event\ControllerEvent;
use Symfony\Component\HttpKernel\Exception\TooManyRequestsHttpException;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Core\Exception\InsufficientAuthenticationException;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\OpenToAnybody;
use Ypomna\App\People\TokenAccount;
use Ypomna\App\People\Value\Scope;

/**
 * Stands behind the guard of all routes: how often a token may ask; and, once what the address names is found, how far it reaches. A
 * route without a scope is closed. With a token the files of captures and exports are to be had, too, and nothing else outside /api.
 */
final readonly class ProgramGuard
{
    public function __construct(
        private Security $security,
        private Gate $gate,
        #[Autowire(service: 'limiter.api')] private RateLimiterFactoryInterface $limiter,
    ) {
    }

    #[AsEventListener(priority: 90)]
    public function onController(ControllerEvent $event): void
    {
        if ([] !== $event->getAttributes(OpenToAnybody::class)) {
            return;
        }
        $isApi = ApiPath::is($event->getRequest());
        $account = $event->isMainRequest() ? $this->account($isApi) : null;
        if (null === $account) {
            return;
        }
        $limit = $this->limiter->create($account->token->id)->consume();
        if (!$limit->isAccepted()) {
            throw new TooManyRequestsHttpException(max(1, $limit->getRetryAfter()->getTimestamp() - time()));
        }
        $scope = str_starts_with($event->getRequest()->getPathInfo(), '/export/') ? Scope::Export : Scope::Read;
        if ($isApi ? [] === $event->getAttributes(Needs::class) : !$event->getRequest()->isMethodSafe() || !$account->has($scope)) {
            throw new AccessDeniedException();
        }
    }

    #[AsEventListener(priority: 90)]
    public function onArguments(ControllerArgumentsEvent $event): void
    {
        if (!$event->isMainRequest() || !ApiPath::is($event->getRequest()) || [] !== $event->getAttributes(OpenToAnybody::class)) {
            return;
        }
        $account = $this->account(true);
        $needed = $event->getAttributes(Needs::class)[0] ?? throw new AccessDeniedException();
        if (null === $account || (null !== $needed->scope && !$account->has($needed->scope))
            || !$this->gate->may($account->viewer(), $needed->right)) {
            throw new AccessDeniedException();
        }
    }

    private function account(bool $isApi): ?TokenAccount
    {
        $account = $this->security->getUser();

        return $account instanceof TokenAccount ? $account : ($isApi ? throw new InsufficientAuthenticationException() : null);
    }
}
