<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * Which parameters of addresses say nothing about the page, as lines of text say it: see key-rules.txt beside this file.
 */
final readonly class KeyRules
{
    private const LINE = '/^(?:(?<kind>tracking|session|keep)\s+(?<name>[^\s=&]+)|(?<ordered>ordered))(?:\s+on\s+(?<host>\S+))?$/iD';
    /** Sixteen or more letters and digits mixed: a token; `sid=12` is often an article. */
    private const TOKEN = '/^(?=[^=]*\d)(?=[^=]*[a-z])[a-z0-9,_.!-]{16,}$/iD';
    private const MOST = 10_000;

    /**
     * @param list<array{kind: string, name: string, host: string|null, from: string}> $rules
     * @param array<string, string> $patterns of the rules for all hosts, by kind
     * @param array<string, array<string, string>> $ofHosts of the others, by host and kind
     */
    private function __construct(public array $rules, private array $patterns, private array $ofHosts)
    {
    }

    public static function shipped(): self
    {
        /** @var self|null $shipped */
        static $shipped = null;

        return $shipped ??= self::parse((string) file_get_contents(__DIR__.'/key-rules.txt'), 'key-rules.txt');
    }

    /**
     * @param string $from what the text is called, for messages
     *
     * @throws InvalidRules
     */
    public static function parse(string $text, string $from): self
    {
        $rules = [];
        foreach (explode("\n", $text) as $n => $line) {
            $line = trim((string) preg_replace('/(?:^|\s)#.*$/', '', rtrim($line, "\r")));
            if ('' === $line) {
                continue;
            }
            if (1 !== preg_match(self::LINE, $line, $m, \PREG_UNMATCHED_AS_NULL)) {
                throw new InvalidRules(\sprintf(
                    '%s, line %d: “%s” is not a rule. A rule is tracking, session or keep and a name, or ordered; behind it may stand “on”'
                        .' and a host.',
                    $from,
                    $n + 1,
                    mb_strimwidth(mb_scrub($line), 0, 60, '…'),
                ));
            }
            $host = null;
            try {
                $host = null === $m['host'] ? null : Host::parse($m['host']);
            } catch (InvalidAddress) {
                throw new InvalidRules(\sprintf(
                    '%s, line %d: “%s” is not a host name.', $from, $n + 1, mb_strimwidth(mb_scrub($m['host']), 0, 60, '…'),
                ));
            }
            $rules[] = [
                'kind' => null === $m['kind'] ? 'ordered' : strtolower($m['kind']),
                'name' => $m['name'] ?? '',
                'host' => $host,
                'from' => $from,
            ];
            if (\count($rules) > self::MOST) {
                throw new InvalidRules(\sprintf('%s holds more than %d rules.', $from, self::MOST));
            }
        }

        return self::of($rules);
    }

    public function and(self $more): self
    {
        return self::of([...$this->rules, ...$more->rules]);
    }

    /** Whether a parameter of an address on that host is left out. */
    public function drops(string $name, string $value, ?string $host): bool
    {
        $session = false;
        $drops = false;
        foreach ($this->patternsFor($host) as $patterns) {
            if (isset($patterns['keep']) && 1 === preg_match($patterns['keep'], $name)) {
                return false;
            }
            $drops = $drops || (isset($patterns['tracking']) && 1 === preg_match($patterns['tracking'], $name));
            $session = $session || (isset($patterns['session']) && 1 === preg_match($patterns['session'], $name));
        }

        return $drops || ($session && 1 === preg_match(self::TOKEN, $value));
    }

    /** Whether the order of parameters has a meaning on that host. */
    public function areOrdered(?string $host): bool
    {
        foreach ($this->patternsFor($host) as $patterns) {
            if (isset($patterns['ordered'])) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return list<array<string, string>>
     */
    private function patternsFor(?string $host): array
    {
        $all = [$this->patterns];
        for ($name = [] === $this->ofHosts ? '' : rtrim((string) $host, '.');
            '' !== $name;
            $name = substr((string) strstr($name, '.'), 1)) {
            if (isset($this->ofHosts[$name])) {
                $all[] = $this->ofHosts[$name];
            }
        }

        return $all;
    }

    /**
     * @param list<array{kind: string, name: string, host: string|null, from: string}> $rules
     */
    private static function of(array $rules): self
    {
        $names = [];
        foreach ($rules as $rule) {
            $names[$rule['host'] ?? ''][$rule['kind']][] = str_replace('\*', '\w*', preg_quote($rule['name'], '/'));
        }
        $patterns = array_map(
            static fn (array $kinds): array => array_map(
                static fn (array $alternatives): string => '/^(?:'.implode('|', $alternatives).')$/iD', $kinds,
            ),
            $names,
        );

        return new self($rules, $patterns[''] ?? [], array_diff_key($patterns, ['' => true]));
    }
}
