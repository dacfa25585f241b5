<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Seals secrets of people, so that a copy of the database alone gives none of them away. */
final readonly class SecretBox
{
    private string $key;

    public function __construct(#[Autowire('%kernel.secret%'), \SensitiveParameter] string $secret)
    {
        $this->key = hash('sha256', 'secrets of people '.$secret, true);
    }

    public function seal(#[\SensitiveParameter] string $bytes): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($bytes, $nonce, $this->key));
    }

    /** @return string|null null if it was sealed with another key, or altered */
    public function open(string $sealed): ?string
    {
        $bytes = (string) base64_decode($sealed, true);
        if (\strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $opened = sodium_crypto_secretbox_open(
            substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), $this->key,
        );

        return false === $opened ? null : $opened;
    }

    /** What is kept of a secret that is only ever held against what somebody types. */
    public function digest(#[\SensitiveParameter] string $secret): string
    {
        return hash_hmac('sha256', $secret, $this->key, true);
    }
}
