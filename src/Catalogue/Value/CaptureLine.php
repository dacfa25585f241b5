<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Shared\Row;

/** A capture as a line of an address's list. */
final readonly class CaptureLine
{
    private function __construct(
        public int $id,
        public string $code,
        public \DateTimeImmutable $at,
        public string $url,
        public int $status,
        public ?string $title,
        public ?string $mime,
        public int $parts,
        /** Of the answers, in bytes. */
        public int $bytes,
        public ?string $redirectTo,
        public string $agent,
        public string $how,
        public ?float $changed,
        public bool $takenIn,
        public int $fileBytes,
        /** SHA-256 of the file, hex. */
        public string $fileDigest,
        /** `whole`, `gaps`, `failed`; null where nobody looked. */
        public ?string $verdict = null,
        /** Whether a browser made it, and with it most likely a picture. */
        public bool $hasPicture = false,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->int('id'), $row->text('code'), $row->moment('captured_at'), $row->text('url'), $row->int('status'),
            $row->textOrNull('title'), $row->textOrNull('mime'), $row->int('parts'),
            $row->int('bytes'), $row->textOrNull('redirect_to'), $row->text('agent'), $row->text('how'), $row->floatOrNull('changed'),
            WarcFile::TAKEN_IN === $row->text('origin'),
            $row->int('file_bytes'), $row->text('file_digest'), $row->textOrNull('verdict'),
            null !== $row->intOrNull('dom_offset') || WarcFile::WITNESS === $row->text('how'),
        );
    }

    /** Whether it is a copy from somebody's own browser. */
    public function isWitness(): bool
    {
        return $this->takenIn && WarcFile::WITNESS === $this->how;
    }

    public function isAlive(): bool
    {
        return $this->status >= 200 && $this->status < 300;
    }

    public function mark(): string
    {
        return CaptureMark::of($this->at, $this->id);
    }
}
