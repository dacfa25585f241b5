<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Catalogue\Event\CatalogueEmptied;

/** The tables that a rebuild fills from the files. What people joined is not among them. */
final readonly class CatalogueTables
{
    /** In the order in which their rows may go. */
    private const DERIVED = ['record', 'capture', 'address', 'warc_file'];

    public function __construct(private Connection $database, private EventDispatcherInterface $events)
    {
    }

    public function empty(): void
    {
        $this->events->dispatch(new CatalogueEmptied());
        foreach (self::DERIVED as $table) {
            $this->database->executeStatement('DELETE FROM '.$table);
        }
    }
}
