<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * The field lines of a message head, in their order, names in any case (RFC 9110 section 5).
 */
final readonly class Fields
{
    /** @var array<string, string> the first value of each name, by the name in lower case */
    private array $first;

    /**
     * @param list<array{string, string}> $lines name and value, white space around the value removed
     */
    public function __construct(public array $lines = [])
    {
        $first = [];
        foreach ($lines as [$name, $value]) {
            $first[strtolower($name)] ??= $value;
        }
        $this->first = $first;
    }

    /**
     * Reads the lines behind a start line. Folded lines (RFC 9112 section 5.2) are joined by one blank; a line
     * without a colon is passed over, as browsers do.
     */
    public static function parse(string $text): self
    {
        /** @var list<array{string, string}> $lines */
        $lines = [];
        foreach (explode("\n", $text) as $line) {
            if ('' !== $line && (' ' === $line[0] || "\t" === $line[0]) && [] !== $lines) {
                [$name, $value] = array_pop($lines);
                $lines[] = [$name, trim($value.' '.trim($line))];
                continue;
            }
            $colon = strpos($line, ':');
            if (false !== $colon && $colon > 0) {
                $lines[] = [rtrim(substr($line, 0, $colon)), trim(substr($line, $colon + 1))];
            }
        }

        return new self($lines);
    }

    /** The first value of that name. */
    public function get(string $name): ?string
    {
        return $this->first[strtolower($name)] ?? null;
    }

    /** Whether no name stands there twice. */
    public function areDistinct(): bool
    {
        return \count($this->lines) === \count($this->first);
    }

    /**
     * @return list<string>
     */
    public function all(string $name): array
    {
        if (!isset($this->first[strtolower($name)])) {
            return [];
        }
        $values = [];
        foreach ($this->lines as [$field, $value]) {
            if (0 === strcasecmp($field, $name)) {
                $values[] = $value;
            }
        }

        return $values;
    }

    /**
     * The members of a comma-separated list field, over all its lines, in lower case.
     *
     * @return list<string>
     */
    public function tokens(string $name): array
    {
        $tokens = [];
        foreach (explode(',', strtolower(implode(',', $this->all($name)))) as $token) {
            $token = trim($token);
            if ('' !== $token) {
                $tokens[] = $token;
            }
        }

        return $tokens;
    }
}
