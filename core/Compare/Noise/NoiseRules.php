<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

use Ypomna\Core\Page\Passage;

/** Rules of a page about what is to be passed over, and the file in which they are handed on. */
final readonly class NoiseRules
{
    private const MOST = 500;

    /** @param list<NoiseRule> $rules */
    public function __construct(public array $rules = [], private Patience $patience = new Patience())
    {
    }

    /**
     * @return list<string> patterns that took too long over what was held against them so far, and pass over nothing any more
     */
    public function setAside(): array
    {
        return $this->patience->setAside();
    }

    /**
     * @param string $json `{"rules": [{"kind": "region", "selector": "…", "quote": "…", "note": "…"}, {"kind": "pattern", "pattern":
     *     "…"}]}`
     *
     * @throws InvalidRule that says which rule is wrong
     */
    public static function fromJson(string $json): self
    {
        try {
            $data = json_decode($json, true, 16, \JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new InvalidRule('The rules are no JSON: '.$e->getMessage().'.');
        }
        $rules = \is_array($data) ? ($data['rules'] ?? null) : null;
        if (!\is_array($rules) || !array_is_list($rules)) {
            throw new InvalidRule('The rules are an object with a list named "rules".');
        }
        if (\count($rules) > self::MOST) {
            throw new InvalidRule(\sprintf('There are more than %d rules.', self::MOST));
        }

        return new self(array_map(self::rule(...), $rules, array_keys($rules)));
    }

    private static function rule(mixed $rule, int $number): NoiseRule
    {
        $text = static fn (string $name): string => \is_array($rule) && \is_string($rule[$name] ?? null) ? $rule[$name] : '';
        try {
            return match ($text('kind')) {
                RuleKind::Region->value => NoiseRule::region($text('selector'), $text('quote'), $text('note')),
                RuleKind::Pattern->value => NoiseRule::pattern($text('pattern'), $text('note')),
                default => throw new InvalidRule('its "kind" is neither "region" nor "pattern".'),
            };
        } catch (InvalidRule $e) {
            throw new InvalidRule(\sprintf('Rule %d: %s', $number + 1, $e->getMessage()));
        }
    }

    public function toJson(): string
    {
        return json_encode(['version' => 1, 'rules' => array_map(static fn (NoiseRule $rule): array => array_filter(
            [
                'kind' => $rule->kind->value, 'selector' => $rule->selector(), 'quote' => $rule->quote, 'pattern' => $rule->pattern,
                'note' => $rule->note,
            ],
            static fn (string $value): bool => '' !== $value,
        ), $this->rules)], \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE)."\n";
    }

    public function with(self $others): self
    {
        return new self([...$this->rules, ...$others->rules], $this->patience);
    }

    public function covering(?Passage $old, ?Passage $new): ?NoiseRule
    {
        foreach ($this->rules as $rule) {
            if ($rule->covers($old, $new, $this->patience)) {
                return $rule;
            }
        }

        return null;
    }

    /**
     * What is left of an address by each rule that passes over some of it. Two addresses of which one of these is the same lead to
     * the same, as far as somebody minds.
     *
     * @return list<string> each tells its rule
     */
    public function leftOf(string $address): array
    {
        $left = [];
        foreach ($this->rules as $n => $rule) {
            $rest = $rule->leaves($address, $this->patience);
            if (null !== $rest) {
                $left[] = $n.' '.$rest;
            }
        }

        return $left;
    }

    /** A rule whose region holds that passage. */
    public function holding(?Passage $passage): ?NoiseRule
    {
        foreach ($this->rules as $rule) {
            if (null !== $passage && $rule->isIn($passage)) {
                return $rule;
            }
        }

        return null;
    }
}
