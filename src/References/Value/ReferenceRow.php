<?php

declare(strict_types=1);

namespace Ypomna\App\References\Value;

use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Liveness\Value\LiveState;
use Ypomna\App\Shared\Row;

/** A line of the table of references. */
final readonly class ReferenceRow
{
    /**
     * @param array{quotes: list<array{text: string, stands: bool, share: float}>, share: float|null}|null $fit of the capture nearest to
     *     the access date
     * @param array{code: string, name: string, url: string, at: string}|null $elsewhere what another archive holds
     * @param list<string> $lost quotations that stand in that capture and not in the latest one any more
     */
    private function __construct(
        public int $id,
        public int $position,
        public string $url,
        public ?string $note,
        public string $label,
        public string $context,
        public string $claim,
        public ?\DateTimeImmutable $accessed,
        public LiveState $live,
        public ?string $capture,
        public ?\DateTimeImmutable $capturedAt,
        public ?string $captureTitle,
        public bool $hasPicture,
        public ?array $fit,
        public array $lost,
        public ?array $elsewhere,
        public ?string $repairTo,
        public ?\DateTimeImmutable $repairDay,
        public string $place,
    ) {
    }

    /**
     * @param array<string, mixed> $values
     * @param CaptureFacts|null $capture the one that it means; null if none is held
     */
    public static function of(array $values, ?CaptureFacts $capture): self
    {
        $row = new Row($values);
        $day = static fn (?string $text): ?\DateTimeImmutable => null === $text
            ? null
            : new \DateTimeImmutable($text, new \DateTimeZone('UTC'));
        /**
         * @var array{
         *     nearest: array{quotes: list<array{text: string, stands: bool, share: float}>, share: float|null}, lost: list<string>,
         * }|null $fit
         */
        $fit = json_decode($row->textOrNull('fit') ?? 'null', true);
        /** @var array{code: string, name: string, url: string, at: string}|null $elsewhere */
        $elsewhere = json_decode($row->textOrNull('elsewhere') ?? 'null', true);

        return new self(
            $row->int('id'), $row->int('position'), $row->text('url'), $row->textOrNull('note'), $row->text('label'), $row->text('context'),
            $row->text('claim'), $day($row->textOrNull('accessed')), LiveState::ofJoined($values),
            $row->textOrNull('capture_code'), $capture?->capturedAt, $capture?->title, true === $capture?->hasPicture,
            $fit['nearest'] ?? null, $fit['lost'] ?? [], $elsewhere, $row->textOrNull('repair_to'), $day($row->textOrNull('repair_day')),
            $row->text('place'),
        );
    }

    /** Days between the access date and the capture, negative where the capture came first. */
    public function distance(): ?int
    {
        return null === $this->accessed || null === $this->capturedAt
            ? null
            : (int) $this->accessed->diff($this->capturedAt->setTime(0, 0))->format('%r%a');
    }

    /**
     * Where its address may be led to: a capture of ours, else another archive's.
     *
     * @return array{string, \DateTimeImmutable}|null the code of a capture or the address elsewhere, and its moment
     */
    public function refuge(): ?array
    {
        if (null !== $this->capture && null !== $this->capturedAt) {
            return [$this->capture, $this->capturedAt];
        }

        return null === $this->elsewhere ? null : [$this->elsewhere['url'], new \DateTimeImmutable($this->elsewhere['at'])];
    }
}
