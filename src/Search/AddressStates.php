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

    /**
     * @param list<int> $addresses
     *
     * @return array<int, string> in a word; `unknown` of what was not checked
     */
    public function ofAll(array $addresses): array
    {
        $urls = $this->captures->urls($addresses);
        $states = $this->checks->latest(array_values($urls));

        return array_map(static fn (string $url): string => isset($states[$url]) ? $states[$url]->word() : 'unknown', $urls);
    }

    #[AsEventListener]
    public function onAddressChecked(AddressChecked $event): void
    {
        $address = $this->addresses->of(Viewer::system(), (string) $event->result->asked);
        if (null !== $address?->id && $this->engine->isThere()) {
            $this->engine->state($address->id, $this->ofAll([$address->id])[$address->id] ?? 'unknown');
        }
    }
}
