<?php

declare(strict_types=1);

namespace Ypomna\Core\Fixity;

/** One line of the ledger: what happened to what, when, and the hash of the line before. */
final readonly class LedgerLine
{
    /**
     * @param array<string, mixed> $details
     */
    private function __construct(
        public int $seq,
        public \DateTimeImmutable $at,
        public string $kind,
        public string $subject,
        public array $details,
        /** Hash of the line before, hex; of the first line 64 zeros. */
        public string $previous,
        /** SHA-256 of the text behind the hash, hex. */
        public string $hash,
        /** The whole line, without its line end. */
        public string $text,
    ) {
    }

    /**
     * @param array<string, mixed> $details
     */
    public static function make(int $seq, \DateTimeImmutable $at, string $kind, string $subject, array $details, string $previous): self
    {
        $json = json_encode(
            [
                'seq' => $seq,
                'at' => $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z'),
                'kind' => $kind,
                'subject' => $subject,
                'details' => (object) $details,
                'previous' => $previous,
            ],
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
        $hash = hash('sha256', $json);

        return new self($seq, $at, $kind, $subject, $details, $previous, $hash, $hash.' '.$json);
    }

    /** @return self|null null if the text is no line of a ledger */
    public static function parse(string $text): ?self
    {
        if (1 !== preg_match('/^([0-9a-f]{64}) (\{.*\})$/s', $text, $m)) {
            return null;
        }
        $data = json_decode($m[2], true, 64);
        if (!\is_array($data) || !\is_int($data['seq'] ?? null) || !\is_string($data['at'] ?? null) || !\is_string($data['kind'] ?? null)
            || !\is_string($data['subject'] ?? null) || !\is_array($data['details'] ?? null) || !\is_string($data['previous'] ?? null)) {
            return null;
        }
        $at = \DateTimeImmutable::createFromFormat('Y-m-d\TH:i:s.u\Z', $data['at'], new \DateTimeZone('UTC'));
        if (false === $at) {
            return null;
        }
        /** @var array<string, mixed> $details */
        $details = $data['details'];

        return new self($data['seq'], $at, $data['kind'], $data['subject'], $details, $data['previous'], $m[1], $text);
    }

    /** Whether the hash at its beginning is that of the rest. */
    public function holds(): bool
    {
        return hash_equals(hash('sha256', substr($this->text, 65)), $this->hash);
    }
}
