<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/**
 * By what our window knows that a message comes from our script in a page of that capture: the server puts it into that script,
 * which takes itself out of the page before any other runs, and tells it to our window alone. No page can read it or compute it.
 */
final readonly class ReadingProof
{
    public function __construct(#[\SensitiveParameter] private string $secret)
    {
    }

    /** One that holds as long as this process lives. */
    public static function passing(): self
    {
        return new self(random_bytes(32));
    }

    public function of(string $code): string
    {
        return substr(hash_hmac('sha256', 'reading '.$code, $this->secret), 0, 40);
    }

    public function holds(string $code, string $proof): bool
    {
        return hash_equals($this->of($code), $proof);
    }
}
