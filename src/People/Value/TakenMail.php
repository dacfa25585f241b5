<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** What became of a message. */
final readonly class TakenMail
{
    /**
     * @param string|null $person in whose name it was taken in; null if it waits
     * @param array<string, string> $jobs codes of captures by address
     * @param list<array{string, string|null}> $files names, and codes of their work; null of what could not be taken in
     * @param string|null $waits where it lies, if nobody here has sent it
     * @param array<string, string> $refused why addresses were not captured
     */
    public function __construct(
        public ?string $person,
        public array $jobs,
        public array $files,
        public ?string $waits,
        public array $refused = [],
    ) {
    }

    public function toText(): string
    {
        return json_encode(
            [$this->person, $this->jobs, $this->files, $this->refused], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    /** @param string $text of {@see toText()} */
    public static function ofText(string $text): self
    {
        $said = json_decode($text, true);
        [$person, $jobs, $files, $refused] = \is_array($said) && 4 === \count($said) ? array_values($said) : [null, [], [], []];
        $named = [];
        foreach (\is_array($files) ? $files : [] as $file) {
            if (\is_array($file) && \is_string($file[0] ?? null)) {
                $named[] = [$file[0], \is_string($file[1] ?? null) ? $file[1] : null];
            }
        }

        return new self(\is_string($person) ? $person : null, self::texts($jobs), $named, null, self::texts($refused));
    }

    /** @return array<string, string> */
    private static function texts(mixed $said): array
    {
        $texts = [];
        foreach (\is_array($said) ? $said : [] as $key => $one) {
            if (\is_string($one)) {
                $texts[(string) $key] = $one;
            }
        }

        return $texts;
    }
}
