<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Translation\LocaleSwitcher;

/** The language of whoever reads: what they chose, else what the browser asks for, as far as the screens speak it. */
#[AsEventListener(event: KernelEvents::REQUEST, priority: 6)]
final readonly class ReaderLanguage
{
    public function __construct(private Languages $languages, private CurrentPerson $person, private LocaleSwitcher $switcher)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        $all = $event->isMainRequest() ? $this->languages->all() : [];
        // With one there is nothing to ask, least of all a session for who somebody is.
        if (\count($all) < 2) {
            return;
        }
        $chosen = $this->person->language();
        $language = null !== $chosen && \in_array($chosen, $all, true) ? $chosen : $event->getRequest()->getPreferredLanguage($all);
        if (null !== $language) {
            $event->getRequest()->setLocale($language);
            $this->switcher->setLocale($language);
        }
    }
}
