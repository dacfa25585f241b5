<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Text;

/** Everything that a reader could see or follow and that differs between two versions of a page. */
final readonly class PageComparison
{
    /**
     * @param list<PassageChange> $changes in reading order
     * @param array<int, int> $partners of passages of the old text, the one of the new text that it is now
     * @param list<array{name: string, old: string, new: string}> $meta title and description
     */
    private function __construct(
        public array $changes,
        /** 0 to 1, by the text. */
        public float $similarity,
        public array $partners,
        public LinkComparison $links,
        public PictureComparison $pictures,
        public array $meta,
    ) {
    }

    /**
     * @param array<string, string> $oldDigests of picture files, by address
     * @param array<string, string> $newDigests
     */
    public static function of(Document $old, Document $new, array $oldDigests = [], array $newDigests = []): self
    {
        $text = TextComparison::of($old->passages, $new->passages);
        $meta = [];
        foreach ([
            'title' => [$old->title, $new->title], 'description' => [$old->description, $new->description],
        ] as $name => [$before, $after]) {
            if (Text::key($before) !== Text::key($after)) {
                $meta[] = ['name' => $name, 'old' => $before, 'new' => $after];
            }
        }

        if ([] !== $text->changes && self::isNothing($old) !== self::isNothing($new)) {
            // Where nothing is left of a page, its name is not what changed.
            $meta = [];
        }

        return new self(
            $text->changes, $text->similarity, $text->partners,
            LinkComparison::of($old->links, $new->links, $text->partners),
            PictureComparison::of($old->pictures, $new->pictures, $oldDigests, $newDigests, $text->stayed()),
            $meta,
        );
    }

    private static function isNothing(Document $page): bool
    {
        return [] === $page->passages && [] === $page->links && [] === $page->pictures && '' === $page->title && '' === $page->description;
    }

    public function isIdentical(): bool
    {
        return [] === $this->changes && [] === $this->meta && $this->links->isEmpty() && $this->pictures->isEmpty();
    }
}
