<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\Event\AddressChecked;
use Ypomna\App\Shared\Viewer;

/** What checks of the addresses of pages say, as the index narrows by it. */
final readonly class AddressStates
{
    public function __construct(
        private CaptureMaintenance $captures,
        private AddressRepository $addresses,
        private CheckRepository $checks,
        private Engine $engine,
    ) {
    }

    /** In a word; `unknown` of what was not checked. */
    public function of(int $address): string
    {
        $url = $this->captures->address($address)->url ?? null;
        $states = null === $url ? [] : $this->checks->states(Viewer::system(), $url);

        return [] === $states ? 'unknown' : $states[0]->word();
    }

    #[AsEventListener]
    public function onAddressChecked(AddressChecked $event): void
    {
        $address = $this->addresses->of(Viewer::system(), (string) $event->result->asked);
        if (null !== $address?->id && $this->engine->isThere()) {
            $this->engine->state($address->id, $this->of($address->id));
        }
    }
}
