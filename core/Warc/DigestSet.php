<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

/**
 * SHA-256 and every declared digest of the same bytes, computed side by side in one pass.
 *
 * @internal
 */
final class DigestSet
{
    public int $bytes = 0;

    /** @var array<string, \HashContext> */
    private array $contexts;
    /** @var array<string, string> */
    private array $results = [];
    /** @var list<DeclaredDigest> */
    private array $declared = [];

    /**
     * @param list<string> $texts       the digests as the record gives them
     * @param bool         $wantsSha256 whether SHA-256 is computed also where it is not declared
     */
    public function __construct(private readonly array $texts, public readonly bool $wantsSha256 = true)
    {
        $this->contexts = $wantsSha256 ? ['sha256' => hash_init('sha256')] : [];
        foreach ($texts as $text) {
            $digest = DeclaredDigest::parse($text);
            if (null !== $digest) {
                $this->declared[] = $digest;
                $this->contexts[$digest->algorithm] ??= hash_init($digest->algorithm);
            }
        }
    }

    public function update(string $piece): void
    {
        $this->bytes += \strlen($piece);
        foreach ($this->contexts as $context) {
            hash_update($context, $piece);
        }
    }

    /** Raw bytes; the set takes no more pieces afterwards. */
    public function sha256(): string
    {
        return $this->result('sha256');
    }

    /** @param self|null $other a second reading of the same payload, of which either may hold */
    public function verdict(?self $other = null): DigestVerdict
    {
        if ([] === $this->texts) {
            return DigestVerdict::Absent;
        }
        if ([] === $this->declared) {
            return DigestVerdict::Unsupported;
        }
        foreach ($this->declared as $digest) {
            if (!$digest->holds($this->result($digest->algorithm)) && true !== $other?->holds($digest)) {
                return DigestVerdict::Mismatch;
            }
        }

        return DigestVerdict::Ok;
    }

    private function holds(DeclaredDigest $digest): bool
    {
        return $digest->holds($this->result($digest->algorithm));
    }

    private function result(string $algorithm): string
    {
        return $this->results[$algorithm] ??= hash_final($this->contexts[$algorithm], true);
    }
}
