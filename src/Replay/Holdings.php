<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Catalogue\Value\RecordPlace;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\WarcError;

/** What pages are read from: the catalogue, or files by themselves. */
interface Holdings
{
    /** @param bool $afresh whether what was found a moment ago does not count: a document is opened only by whoever may see it now */
    public function capture(Viewer $viewer, string $code, bool $afresh = true): ?ReadCapture;

    /**
     * The record that answers a request as of a capture: of its own file first, else of the nearest moment.
     *
     * @param string|null $body SHA-256 of what was sent with the request, hex
     */
    public function find(string $url, ReadCapture $as, string $method, ?string $body): ?RecordPlace;

    /** Whether that is among what a capture's own exchanges asked for: what its scripts got then they may read now. */
    public function isOwn(RecordPlace $place, ReadCapture $capture): bool;

    /**
     * A page is about to ask for these.
     *
     * @param list<string> $urls
     */
    public function foresee(array $urls, ReadCapture $as): void;

    /** Where the rendered document of a frame stands in the file of a capture; null if it was not kept. */
    public function rendered(string $url, ReadCapture $as): ?int;

    /** The capture of that address that lies nearest to a moment. */
    public function nearest(Viewer $viewer, string $url, \DateTimeImmutable $moment): ?ReadCapture;

    /**
     * @throws WarcError if the record cannot be read
     */
    public function answer(string $path, int $offset): HttpRecord;

    /**
     * The block of a record that is none of HTTP.
     *
     * @return iterable<string>
     *
     * @throws WarcError
     */
    public function block(string $path, int $offset): iterable;
}
