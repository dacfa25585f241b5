<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

use Ypomna\Core\Search\Ranking;

/** A page in which all stands, whatever the number of its captures; or an item. */
final readonly class Result
{
    private const LONGEST_PASSAGE = 120;

    /**
     * @param string $code of its address, or of the item
     * @param string|null $capture code of the one that is opened: the last in which the best text stands; null of items
     * @param list<Snippet> $snippets
     * @param string $cursor behind which the next one stands
     * @param LifeDrawing|null $drawing when it stood there; null of items, and of pages with very many captures
     * @param Ranking|null $why why it stands where it stands; null where nothing stands in it any more
     * @param int $near how many other pages that are much like it stand below it
     */
    public function __construct(
        public Kind $kind,
        public string $code,
        public string $title,
        public string $url,
        public string $site,
        public ?string $capture,
        public ?\DateTimeImmutable $capturedAt,
        public bool $hasPicture,
        public Stood $stood,
        public array $snippets,
        public string $cursor,
        public ?LifeDrawing $drawing = null,
        public int $near = 0,
        public ?Ranking $why = null,
    ) {
    }

    /** What is marked in the page when it is opened: the words as they stand there; null of items, and where they stand beside the page. */
    public function passage(): ?string
    {
        $best = null;
        foreach (null === $this->capture ? [] : $this->snippets as $snippet) {
            if ($snippet->passage >= 0 && Means::Written === $snippet->means && [] !== $snippet->marks
                && (null === $best || \count($snippet->marks) > \count($best->marks))) {
                $best = $snippet;
            }
        }
        if (null === $best) {
            return null;
        }
        $from = $best->marks[0][0];
        $to = $best->marks[\count($best->marks) - 1][1];

        return mb_substr($best->text, $from, ($to - $from > self::LONGEST_PASSAGE ? $best->marks[0][1] : $to) - $from);
    }
}
