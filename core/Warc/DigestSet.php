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
    /** Up to here the bytes are held and digested at once, by OpenSSL, which is nearly twice as fast. */
    private const HELD = 1_048_576;

    public int $bytes = 0;

    private ?string $held = '';
    /** @var array<string, true> */
    private array $algorithms;
    /** @var array<string, \HashContext> */
    private array $contexts = [];
    /** @var array<string, string> */
    private array $results = [];
    /** @var list<DeclaredDigest> */
    private array $declared = [];

    /**
     * @param list<string> $texts the digests as the record gives them
     * @param bool $wantsSha256 whether SHA-256 is computed also where it is not declared
     */
    public function __construct(private readonly array $texts, public readonly bool $wantsSha256 = true)
    {
        $this->algorithms = $wantsSha256 ? ['sha256' => true] : [];
        foreach ($texts as $text) {
            $digest = DeclaredDigest::parse($text);
            if (null !== $digest) {
                $this->declared[] = $digest;
                $this->algorithms[$digest->algorithm] = true;
            }
        }
    }

    public function update(string $piece): void
    {
        $this->bytes += \strlen($piece);
        if ([] === $this->algorithms) {
            return;
        }
        if (null !== $this->held && $this->bytes <= self::HELD) {
            $this->held .= $piece;

            return;
        }
        if (null !== $this->held) {
            $piece = $this->held.$piece;
            $this->held = null;
            foreach (array_keys($this->algorithms) as $algorithm) {
                $this->contexts[$algorithm] = hash_init($algorithm);
            }
        }
        foreach ($this->contexts as $context) {
            hash_update($context, $piece);
        }
    }

    /** Raw bytes; the set takes no more pieces afterwards. */
    public function sha256(): string
    {
        return $this->result('sha256');
    }

    /** @param self ...$others further readings of the same payload, any of which may hold */
    public function verdict(self ...$others): DigestVerdict
    {
        if ([] === $this->texts) {
            return DigestVerdict::Absent;
        }
        if ([] === $this->declared) {
            return DigestVerdict::Unsupported;
        }
        foreach ($this->declared as $digest) {
            if ([] === array_filter([$this, ...$others], static fn (self $one): bool => $one->holds($digest))) {
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
        return $this->results[$algorithm] ??= null === $this->held
            ? hash_final($this->contexts[$algorithm], true)
            : self::atOnce($algorithm, $this->held);
    }

    private static function atOnce(string $algorithm, string $bytes): string
    {
        $digest = @openssl_digest($bytes, $algorithm, true);

        return false === $digest ? hash($algorithm, $bytes, true) : $digest;
    }
}
