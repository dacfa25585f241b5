<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** A file that belongs to an item. */
final readonly class Attachment
{
    /** Sound that browsers play. */
    private const SOUND = ['audio/webm', 'audio/ogg', 'audio/mp4', 'audio/mpeg', 'audio/wav', 'audio/x-wav', 'audio/flac'];
    private const PICTURES = ['image/png', 'image/jpeg', 'image/gif', 'image/webp'];

    /**
     * @param string|null $sha256 digest in hex; null while it is coming
     * @param list<array{at: float, text: string}> $marks of a recording, in seconds from its beginning, rising
     */
    public function __construct(
        public int $id,
        public string $code,
        public int $item,
        public string $name,
        public string $type,
        public int $bytes,
        public ?string $sha256,
        public array $marks,
        public string $person,
        public \DateTimeImmutable $addedAt,
        public ?\DateTimeImmutable $deletedAt,
    ) {
    }

    /** Of its state, as programs are told it. */
    public function etag(): string
    {
        return substr(hash('sha256', serialize([$this->bytes, $this->sha256, $this->marks, $this->deletedAt])), 0, 16);
    }

    public function isWhole(): bool
    {
        return null !== $this->sha256;
    }

    public function isSound(): bool
    {
        return \in_array($this->type, self::SOUND, true);
    }

    public function isPicture(): bool
    {
        return \in_array($this->type, self::PICTURES, true);
    }

    /** The type under which it is given out: what is not shown in place is bytes. */
    public function givenType(): string
    {
        return $this->isSound() || $this->isPicture() ? $this->type : 'application/octet-stream';
    }
}
