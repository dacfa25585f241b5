<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Event;

/**
 * A file is entered in the catalogue. It is told within the transaction that enters it, so what listeners write, a message to a
 * worker for example, is there with the file or not at all; the transaction may be tried again.
 */
final readonly class FileCatalogued
{
    /**
     * @param int $file its number
     * @param string $origin whose it is: a constant of {@see \Ypomna\App\Catalogue\Entity\WarcFile}
     * @param int $captures how many captures it brings
     */
    public function __construct(public int $file, public string $origin, public int $captures)
    {
    }
}
