<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\DependencyInjection\Attribute\AutowireServiceClosure;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;

/**
 * For houses that sign people in themselves: a proxy in front names the person in a header field (setting SIGN_IN_BY_PROXY). It counts only
 * from proxies that are trusted by address (TRUSTED_PROXIES); what anybody else writes into that field, or into the server's own variable,
 * is taken away. Whoever is named has to be a person here.
 */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 256)]
final readonly class ProxySignIn
{
    /** @param \Closure(): PersonRepository $people made only where a proxy names somebody */
    public function __construct(
        #[AutowireServiceClosure(PersonRepository::class)] private \Closure $people,
        #[Autowire('%env(SIGN_IN_BY_PROXY)%')] private string $field,
    ) {
    }

    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        $request->server->remove('REMOTE_USER');
        $named = '' === $this->field || !$request->isFromTrustedProxy() ? null : $request->headers->get($this->field);
        $person = null === $named ? null : ($this->people)()->named($named);
        if (null !== $person && !$person->isClosed()) {
            // As it is written here, whatever the proxy makes of capitals: it is the same session from request to request.
            $request->server->set('REMOTE_USER', $person->name);
        }
    }
}
