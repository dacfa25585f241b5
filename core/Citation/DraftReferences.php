<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Address\Url;

/** Every address of a draft, with its context, note and access date. */
final readonly class DraftReferences
{
    public const MOST = 5_000;
    private const CONTEXT = 700;
    /** How far back the sentence before a mark may begin, in bytes. */
    private const BACK = 2_000;
    /** Ends of sentences, for finding the one that a mark or an address stands in. */
    private const END = '/[.!?…;]["”’»)\]]*\s+|[。！？]\s*/u';

    /**
     * @param list<Reference> $all
     * @param bool $isCut whether there are more than are taken
     */
    private function __construct(public array $all, public bool $isCut)
    {
    }

    /** @throws UnreadableDraft */
    public static function of(Draft $draft): self
    {
        $stretches = $draft->stretches();
        $claims = self::claims($stretches);
        $found = [];
        foreach ($stretches as $stretch) {
            foreach ($stretch->spots as $spot) {
                $url = Url::tryParse(1 === preg_match('~^www\.~i', $spot->url) ? 'http://'.$spot->url : $spot->url);
                if (null === $url || !$url->isWeb()) {
                    continue;
                }
                if (\count($found) >= self::MOST) {
                    return new self($found, true);
                }
                $claim = null === $stretch->note ? '' : $claims[$stretch->note] ?? '';
                $context = null === $stretch->note ? self::around($stretch->text, $spot->at, $spot->length) : self::short($stretch->text);
                $accessed = $stretch->accessed ?? AccessDate::near($stretch->text, $spot->at, $spot->at + $spot->length);
                $found[] = new Reference(
                    \count($found) + 1, $url, $stretch->note, self::short($spot->label), $context, $claim, $accessed,
                    Quotations::in($claim."\n".$context), $spot->place,
                );
            }
        }

        return new self($found, false);
    }

    /**
     * @param list<Stretch> $stretches
     *
     * @return array<array-key, string> the sentence that each note is set behind, by note
     */
    private static function claims(array $stretches): array
    {
        $claims = [];
        foreach ($stretches as $stretch) {
            $from = 0;
            foreach ($stretch->marks as [$at, $note]) {
                $begins = max($from, $at - self::BACK);
                $before = substr($stretch->text, $begins, max(0, $at - $begins));
                $claim = self::lastSentence($before);
                // Several marks behind one sentence share it.
                $claims[$note] ??= '' === $claim
                    ? self::lastSentence(substr($stretch->text, max(0, $at - self::BACK), min($at, self::BACK)))
                    : $claim;
                $from = $at;
            }
        }

        return $claims;
    }

    private static function lastSentence(string $text): string
    {
        $text = rtrim(mb_scrub($text));
        $from = 0;
        preg_match_all(self::END, $text, $m, \PREG_OFFSET_CAPTURE);
        foreach ($m[0] as [$end, $at]) {
            if ($at + \strlen($end) < \strlen($text)) {
                $from = $at + \strlen($end);
            }
        }

        return self::short(trim(substr($text, $from)));
    }

    /** The sentence that an address stands in, with the one before if it is short. */
    private static function around(string $text, int $at, int $length): string
    {
        if (\strlen($text) <= self::CONTEXT) {
            return self::short($text);
        }
        $before = mb_scrub(substr($text, max(0, $at - 400), min($at, 400)));
        $sentence = self::lastSentence($before);
        $after = mb_strcut(mb_scrub(substr($text, $at + $length, 300)), 0);

        return self::short($sentence.' '.substr($text, $at, $length).$after);
    }

    private static function short(string $text): string
    {
        return mb_strimwidth(
            trim((string) preg_replace(['/[↩↑⏎]\x{FE0E}?/u', '/\s+/u'], ['', ' '], mb_scrub(substr($text, 0, 12 * self::CONTEXT)))),
            0,
            self::CONTEXT,
            '…',
        );
    }
}
