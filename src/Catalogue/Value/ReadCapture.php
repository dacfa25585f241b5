<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\Viewer;

/** A capture as of which pages are read. */
final readonly class ReadCapture
{
    public function __construct(
        /** Who reads it: what else is shown with it is looked for with their eyes. */
        public Viewer $viewer,
        public string $code,
        public string $url,
        public \DateTimeImmutable $at,
        public int $fileId,
        /** Of its file. */
        public string $path,
        public int $responseOffset,
        /** Where the rendered document stands in the file; null if there is none. */
        public ?int $domOffset,
        /** To which part of it somebody was led, percent-coded; null if to none, or if that is not known. */
        public ?string $fragment = null,
    ) {
    }

    public static function of(Viewer $viewer, Capture $capture): self
    {
        return new self(
            $viewer, $capture->code, $capture->url, $capture->capturedAt, (int) $capture->warcFile->id, $capture->warcFile->path,
            $capture->responseOffset, $capture->domOffset,
        );
    }
}
