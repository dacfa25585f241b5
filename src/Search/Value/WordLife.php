<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** When words stood on a page. */
final readonly class WordLife
{
    /**
     * @param int $captures in how many captures they stand
     * @param int $of how many there are
     * @param list<WordSpan> $spans the oldest first
     * @param \DateTimeImmutable|null $absentSince of the first capture without them after the last with them; null if there is none
     * @param string|null $absentIn code of that capture
     * @param \DateTimeImmutable|null $begins of the first capture of all, $ends of the last; null if there is none
     */
    public function __construct(
        public int $captures,
        public int $of,
        public array $spans,
        public ?\DateTimeImmutable $absentSince,
        public ?string $absentIn,
        public ?\DateTimeImmutable $begins,
        public ?\DateTimeImmutable $ends,
    ) {
    }

    /**
     * @param list<array{text: int, at: \DateTimeImmutable, code: string}> $captures all of the page, the oldest first
     * @param array<int, true> $has the texts in which they stand
     */
    public static function of(array $captures, array $has): self
    {
        $spans = [];
        $open = $absent = null;
        $count = 0;
        foreach ($captures as $capture) {
            if (isset($has[$capture['text']])) {
                ++$count;
                $open = null === $open
                    ? new WordSpan($capture['at'], $capture['at'], 1, $capture['code'], $capture['code'])
                    : new WordSpan($open->from, $capture['at'], $open->captures + 1, $open->firstCode, $capture['code']);
                $absent = null;
            } else {
                if (null !== $open) {
                    $spans[] = new WordSpan(
                        $open->from, $open->to, $open->captures, $open->firstCode, $open->lastCode, $capture['code'],
                    );
                    $open = null;
                }
                $absent ??= $capture;
            }
        }
        if (null !== $open) {
            $spans[] = $open;
        }
        $isGone = [] !== $spans && null !== $absent;

        return new self(
            $count, \count($captures), $spans, $isGone ? $absent['at'] : null, $isGone ? $absent['code'] : null,
            $captures[0]['at'] ?? null, [] === $captures ? null : $captures[\count($captures) - 1]['at'],
        );
    }

    public function first(): ?\DateTimeImmutable
    {
        return $this->spans[0]->from ?? null;
    }

    public function last(): ?\DateTimeImmutable
    {
        return [] === $this->spans ? null : $this->spans[\count($this->spans) - 1]->to;
    }
}
