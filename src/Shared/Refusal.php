<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Contracts\Translation\TranslatableInterface;
use Symfony\Contracts\Translation\TranslatorInterface;

/** What was asked for cannot be done. It carries the key of a message and its values; the screen has the words. */
abstract class Refusal extends \RuntimeException implements TranslatableInterface
{
    /** @param array<string, string|int> $values of the message */
    public function __construct(public readonly string $key, public readonly array $values = [], ?\Throwable $previous = null)
    {
        parent::__construct($key, 0, $previous);
    }

    public function explanation(): Explanation
    {
        return new Explanation($this->key, $this->values);
    }

    public function trans(TranslatorInterface $translator, ?string $locale = null): string
    {
        return $this->explanation()->trans($translator, $locale);
    }
}
