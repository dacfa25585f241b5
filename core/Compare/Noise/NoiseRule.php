<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

use Ypomna\Core\Page\Passage;

/** What is to be passed over on a page. */
final readonly class NoiseRule
{
    private const LONGEST_PATTERN = 500;
    /** Of a passage, in bytes, so much is held against a pattern. */
    private const LONGEST_TEXT = 5_000;
    /** No pattern tries longer than this (PCRE2, "pcre2pattern", limits set within the pattern). */
    private const LIMITS = '(*LIMIT_MATCH=20000)(*LIMIT_DEPTH=2000)(*LIMIT_HEAP=2000)';

    private function __construct(
        public RuleKind $kind,
        private ?Selector $selector,
        public string $quote,
        public string $pattern,
        public string $note,
    ) {
    }

    /**
     * @param string $quote words that stood in the region; their figures count for nothing
     *
     * @throws InvalidRule
     */
    public static function region(string $selector, string $quote = '', string $note = ''): self
    {
        if ('' === trim($selector) && '' === trim($quote)) {
            throw new InvalidRule('A region needs a selector or the words that stand in it.');
        }

        return new self(
            RuleKind::Region,
            '' === trim($selector) ? null : Selector::parse($selector),
            mb_strcut(trim($quote), 0, 1_000),
            '',
            mb_strcut($note, 0, 1_000),
        );
    }

    /**
     * @throws InvalidRule
     */
    public static function pattern(string $pattern, string $note = ''): self
    {
        if ('' === $pattern || \strlen($pattern) > self::LONGEST_PATTERN) {
            throw new InvalidRule(\sprintf('A pattern has 1 to %d characters.', self::LONGEST_PATTERN));
        }
        if (1 === preg_match('/[\x00-\x08]|\(\*|\(\?(?:R|\d|&|P>|C)|\\\\g</', $pattern)) {
            throw new InvalidRule('Verbs, recursion, callouts and control characters cannot be used in a pattern.');
        }
        if (false === @preg_match(self::delimited($pattern), '')) {
            throw new InvalidRule(
                'The pattern is not a regular expression: '
                    .(string) preg_replace('/^preg_match\(\): /', '', error_get_last()['message'] ?? ''),
            );
        }

        return new self(RuleKind::Pattern, null, '', $pattern, mb_strcut($note, 0, 1_000));
    }

    public function selector(): string
    {
        return $this->selector->written ?? '';
    }

    /** Whether the rule passes over that change of a passage; one of both may be missing. */
    public function covers(?Passage $old, ?Passage $new, Patience $patience): bool
    {
        if (RuleKind::Pattern === $this->kind) {
            $rest = $this->without($old->text ?? '', $patience);

            return null !== $rest && $rest === $this->without($new->text ?? '', $patience)
                && ('' === $rest || ($old->key ?? '') !== ($new->key ?? ''));
        }
        foreach ([$old, $new] as $passage) {
            if (null !== $passage && !$this->isIn($passage)) {
                return false;
            }
        }

        return true;
    }

    /** What is left of an address where the rule passes over some of it; null if it passes over none. */
    public function leaves(string $address, Patience $patience): ?string
    {
        return RuleKind::Pattern === $this->kind && '' !== $address ? $this->without($address, $patience) : null;
    }

    public function isIn(Passage $passage): bool
    {
        return RuleKind::Region === $this->kind
            && ((null !== $this->selector && $this->selector->matches($passage->path))
                || ('' !== $this->quote && self::masked($passage->text) === self::masked($this->quote)));
    }

    /** The text without what the pattern matches, as it is where that goes beyond PCRE's limits; null if the pattern was set aside. */
    private function without(string $text, Patience $patience): ?string
    {
        return $patience->with($this->pattern, function () use ($text): string {
            $rest = @preg_replace(self::delimited($this->pattern), '', mb_strcut($text, 0, self::LONGEST_TEXT));

            return \is_string($rest) ? trim((string) preg_replace('/\s+/', ' ', $rest)).mb_strcut($text, self::LONGEST_TEXT) : $text;
        });
    }

    private static function masked(string $text): string
    {
        return (string) preg_replace('/\p{N}+/u', '0', $text);
    }

    private static function delimited(string $pattern): string
    {
        // A delimiter that no pattern contains.
        return "\x01".self::LIMITS.$pattern."\x01u";
    }
}
