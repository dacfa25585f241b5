<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Reach;

/** How this installation shows that it is itself: what nobody else can answer to a word that was just made up. */
final readonly class ReachProof
{
    public const WORD = '[a-z2-7]{26}';

    public function __construct(#[\SensitiveParameter] private string $secret)
    {
    }

    /** Where a proof is asked for, at every host of ours. */
    public static function path(string $word): string
    {
        return '/reached/'.$word;
    }

    /** @param bool $secure whether it was asked over TLS, as far as we are told */
    public function answer(string $word, bool $secure): string
    {
        return $this->of($word).($secure ? ' tls' : ' plain')."\n";
    }

    /** Whether an answer is ours: null if it is not, else whether it was asked over TLS, as far as the application is told. */
    public function read(string $word, string $answer): ?bool
    {
        return match (true) {
            hash_equals($this->answer($word, true), $answer) => true,
            hash_equals($this->answer($word, false), $answer) => false,
            default => null,
        };
    }

    private function of(string $word): string
    {
        return hash_hmac('sha256', 'reached '.$word, $this->secret);
    }
}
