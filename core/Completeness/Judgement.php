<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/**
 * Whether a capture is whole. What the server itself had not is listed, but no reader missed less; everything else that
 * is missing makes it one with gaps.
 */
final readonly class Judgement
{
    /** Share of the page's area that has to look in the replay as it did. */
    public const ALIKE = 0.985;

    /**
     * @param string|null $reason a word for why it is not whole
     */
    public function __construct(public Verdict $verdict, public ?string $reason)
    {
    }

    /**
     * @param list<Gap> $gaps
     * @param list<Trouble> $troubles
     * @param bool|null $replays whether its replay shows what was seen; null if that was not looked at
     * @param bool $nothing whether a request for consent stands in the place of the page
     */
    public static function of(array $gaps, array $troubles, ?bool $replays, bool $nothing = false): self
    {
        $worst = Verdict::Whole;
        $reason = null;
        foreach ($troubles as $trouble) {
            $verdict = Trouble::Consent === $trouble && $nothing ? Verdict::Failed : $trouble->verdict();
            if (Verdict::Failed === $verdict) {
                return new self($verdict, $trouble->value);
            }
            if (Verdict::Gaps === $verdict) {
                [$worst, $reason] = [$verdict, $reason ?? $trouble->value];
            }
        }
        foreach ($gaps as $gap) {
            if (GapReason::Status !== $gap->reason) {
                return new self(Verdict::Gaps, $reason ?? 'gaps');
            }
        }

        return false === $replays && Verdict::Whole === $worst ? new self(Verdict::Gaps, 'replay') : new self($worst, $reason);
    }
}
