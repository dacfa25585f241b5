<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Value\PageFound;
use Ypomna\App\Catalogue\Value\RecordRole;

/** Takes what a scan finds, as it finds it. */
interface ScanTarget
{
    /**
     * @param list<int|string|null> $row of the record table, in the order of {@see ScanSheets::RECORD}
     */
    public function record(array $row): void;

    public function page(PageFound $page): void;

    /** What another record holds of the page with that record id: its rendered document, its text. */
    public function derivative(string $recordId, RecordRole $role, int $offset): void;

    /**
     * What the file says of whether the capture of that page worked.
     *
     * @param string $facts JSON
     */
    public function completeness(string $recordId, string $verdict, string $facts): void;

    /** What the file says that the page with that record id is called. */
    public function title(string $recordId, string $title): void;

    /** With which address, fragment and all, the page of that record was asked for. */
    public function requested(string $recordId, string $url): void;
}
