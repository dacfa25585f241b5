<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Contracts\Translation\TranslatableInterface;
use Symfony\Contracts\Translation\TranslatorInterface;

/** What somebody asked for cannot be done as it is written. It carries the key of a message and its values; the screen has the words. */
abstract class Refusal extends \InvalidArgumentException implements TranslatableInterface
{
    /** @param array<string, string|int> $values of the message */
    public function __construct(public readonly string $key, public readonly array $values = [])
    {
        parent::__construct($key);
    }

    public function trans(TranslatorInterface $translator, ?string $locale = null): string
    {
        return $translator->trans($this->key, $this->values, null, $locale);
    }
}
