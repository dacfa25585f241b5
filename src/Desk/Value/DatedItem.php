<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\Core\Desk\UncertainDate;

/** An item, and when that was of which it speaks. */
final readonly class DatedItem
{
    /** @param CaptureFacts|null $capture what it is about, if that is seen */
    public function __construct(public FieldRow $item, public ?CaptureFacts $capture, public UncertainDate $date)
    {
    }

    /** What it is called where it has no title. */
    public function name(): string
    {
        return '' !== $this->item->title ? $this->item->title : $this->capture->title ?? $this->capture->url ?? '';
    }

    /** How the date is put in words: a key of the family `dated`. */
    public function manner(): string
    {
        return match (true) {
            $this->date->isOpenBefore => 'before',
            $this->date->isOpenAfter => 'after',
            $this->date->isSpan => 'span',
            $this->date->first === $this->date->last => 'day',
            default => 'within',
        };
    }

    /** The day on which the evidence was captured, as a number since 1970-01-01; null if it is no capture. */
    public function captured(): ?int
    {
        return null === $this->capture ? null : (int) floor($this->capture->capturedAt->getTimestamp() / 86_400);
    }

    /** @return array{int|null, int|null, bool, bool, int|null, string, string} as the picture takes it */
    public function drawn(): array
    {
        return [
            $this->date->first, $this->date->last, $this->date->isApproximate, $this->date->isUncertain, $this->captured(),
            mb_substr($this->name(), 0, 120), $this->item->code,
        ];
    }

    public function firstDay(): string
    {
        return self::day($this->date->first ?? $this->date->last ?? 0);
    }

    public function lastDay(): string
    {
        return self::day($this->date->last ?? $this->date->first ?? 0);
    }

    private static function day(int $number): string
    {
        $moment = (new \DateTimeImmutable('1970-01-01', new \DateTimeZone('UTC')))->modify(\sprintf('%+d days', $number));

        return $moment->format('Y-m-d');
    }
}
