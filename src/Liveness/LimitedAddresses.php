<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\DBAL\Connection;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\CapturesLimited;

/** How an address stands is told to those alone who may see a capture of it, if it is held for some only. */
#[AsEventListener]
final readonly class LimitedAddresses
{
    public function __construct(private Connection $database, private CaptureMaintenance $captures)
    {
    }

    public function __invoke(CapturesLimited $event): void
    {
        foreach ($this->captures->addresses($event->addresses) as $address) {
            $this->database->executeStatement(
                'UPDATE live_address SET limited = ? WHERE key_hash = ?', [(int) $address['confidential'], hex2bin($address['key_hash'])],
            );
        }
    }
}
