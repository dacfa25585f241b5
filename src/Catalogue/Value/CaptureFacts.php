<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Shared\Row;

/** What a list shows of a capture. */
final readonly class CaptureFacts
{
    /**
     * @param string|null $title what the page calls itself; null if it is not known
     * @param string $how how it was come by, as its file says
     * @param string|null $verdict whether it worked: `whole`, `gaps`, `failed`; null if that was not checked
     */
    public function __construct(
        public string $code,
        public string $url,
        public \DateTimeImmutable $capturedAt,
        public ?string $title,
        public ?string $verdict,
        public bool $hasPicture,
        public string $how,
        public bool $takenIn,
    ) {
    }

    /** @param array<string, mixed> $values */
    public static function fromRow(array $values): self
    {
        $row = new Row($values);

        return new self(
            $row->text('code'), $row->text('url'), $row->moment('captured_at'), $row->textOrNull('title'), $row->textOrNull('verdict'),
            $row->int('pictures') > 0, $row->text('how'), WarcFile::TAKEN_IN === $row->text('origin'),
        );
    }
}
