<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** What somebody wrote beside a capture. */
final readonly class CaptureDescription
{
    /** @param list<string> $tags */
    public function __construct(public string $title = '', public string $why = '', public array $tags = [], public string $person = '')
    {
    }

    /** From what was typed into a form: tags stand behind each other, with commas. */
    public static function typed(string $title, string $why, string $tags): self
    {
        $names = [];
        foreach (explode(',', mb_scrub($tags)) as $name) {
            $name = mb_substr(trim((string) preg_replace('/\s+/u', ' ', $name)), 0, 100);
            if ('' !== $name && \count($names) < 50) {
                $names[mb_strtolower($name)] ??= $name;
            }
        }

        return new self(
            mb_substr(trim((string) preg_replace('/\s+/u', ' ', mb_scrub($title))), 0, 500),
            mb_strcut(trim(mb_scrub($why)), 0, 20_000),
            array_values($names),
        );
    }

    public function isEmpty(): bool
    {
        return '' === $this->title && '' === $this->why && [] === $this->tags;
    }
}
