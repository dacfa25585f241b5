<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Contracts\Translation\TranslatableInterface;
use Symfony\Contracts\Translation\TranslatorInterface;

/** Why something is as it is: the key of a message and its values. It is kept so with what it explains; the screen has the words. */
final readonly class Explanation implements TranslatableInterface
{
    /** @param array<string, string|int> $values of the message */
    public function __construct(public string $key, public array $values = [])
    {
    }

    /** What a library or a server says of itself, in its own words. */
    public static function words(string $words): self
    {
        return new self('ui.in_its_own_words', ['words' => $words]);
    }

    /** Work that came to no end, for a reason that only the log has. */
    public static function unexpected(): self
    {
        return new self('ui.something_unexpected_happened');
    }

    /** As it was kept; what an earlier version kept is taken word by word. */
    public static function of(string $kept): self
    {
        $read = json_decode($kept, true, 4);
        if (!\is_array($read) || !\is_string($read['key'] ?? null) || !\is_array($read['values'] ?? null)) {
            return self::words($kept);
        }
        $values = [];
        foreach ($read['values'] as $name => $value) {
            if (\is_string($value) || \is_int($value)) {
                $values[(string) $name] = $value;
            }
        }

        return new self($read['key'], $values);
    }

    public function kept(): string
    {
        return json_encode(['key' => $this->key, 'values' => (object) $this->values], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE
            | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES);
    }

    public function trans(TranslatorInterface $translator, ?string $locale = null): string
    {
        return $translator->trans($this->key, $this->values, null, $locale);
    }
}
