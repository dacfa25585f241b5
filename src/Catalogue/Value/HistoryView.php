<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\WarcScan;
use Ypomna\App\Shared\Type\MomentType;

/** Which part of an address's history is looked at: from when to when, and which captures of it. */
final readonly class HistoryView
{
    public const STATES = [
        'alive' => 'c.leads_on = 0 AND c.status BETWEEN 200 AND 299',
        'led-on' => 'c.leads_on = 1',
        'gone' => 'c.leads_on = 0 AND c.status NOT BETWEEN 200 AND 299',
    ];

    /**
     * @param \DateTimeImmutable|null $from the first moment
     * @param \DateTimeImmutable|null $to the first moment behind it
     * @param string $state a key of STATES, or ''
     */
    public function __construct(
        public ?\DateTimeImmutable $from = null,
        public ?\DateTimeImmutable $to = null,
        public string $state = '',
        public bool $changed = false,
    ) {
    }

    public static function read(string $from, string $to, string $state, string $changed): self
    {
        $moment = static fn (string $text): ?\DateTimeImmutable => '' === $text ? null : WarcScan::moment($text);

        return new self($moment($from), $moment($to), isset(self::STATES[$state]) ? $state : '', '' !== $changed);
    }

    /** Whether all of the history is looked at. */
    public function isWhole(): bool
    {
        return null === $this->from && null === $this->to && '' === $this->state && !$this->changed;
    }

    public function within(\DateTimeImmutable $from, \DateTimeImmutable $to): self
    {
        return new self($from, $to, $this->state, $this->changed);
    }

    /**
     * @return array{string, list<string>} a condition on captures `c`, beginning with AND, and its parameters
     */
    public function condition(): array
    {
        $sql = '';
        $parameters = [];
        foreach ([[' AND c.captured_at >= ?', $this->from], [' AND c.captured_at < ?', $this->to]] as [$part, $moment]) {
            if (null !== $moment) {
                $sql .= $part;
                $parameters[] = MomentType::text($moment);
            }
        }
        $sql .= '' === $this->state ? '' : ' AND '.self::STATES[$this->state];
        $sql .= $this->changed ? ' AND (c.changed > 0 OR c.changed IS NULL)' : '';

        return [$sql, $parameters];
    }

    /**
     * For addresses of our own pages.
     *
     * @return array<string, string>
     */
    public function parameters(): array
    {
        return array_filter([
            'from' => $this->from?->format('Y-m-d\TH:i:s\Z') ?? '', 'to' => $this->to?->format('Y-m-d\TH:i:s\Z') ?? '',
            'state' => $this->state, 'changed' => $this->changed ? '1' : '',
        ], static fn (string $value): bool => '' !== $value);
    }
}
