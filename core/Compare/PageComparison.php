<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Document;

/** Everything that a reader could see or follow and that differs between two versions of a page. */
final readonly class PageComparison
{
    /**
     * @param list<PassageChange>                                 $changes in reading order
     * @param list<array{name: string, old: string, new: string}> $meta    title and description
     */
    private function __construct(
        public array $changes,
        /** 0 to 1, by the text. */
        public float $similarity,
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
        [$changes, $similarity] = TextComparison::of($old->passages, $new->passages);
        $meta = [];
        foreach (['title' => [$old->title, $new->title], 'description' => [$old->description, $new->description]] as $name => [$before, $after]) {
            if ($before !== $after) {
                $meta[] = ['name' => $name, 'old' => $before, 'new' => $after];
            }
        }

        return new self($changes, $similarity, LinkComparison::of($old->links, $new->links), PictureComparison::of($old->pictures, $new->pictures, $oldDigests, $newDigests), $meta);
    }

    public function isIdentical(): bool
    {
        return [] === $this->changes && [] === $this->meta && $this->links->isEmpty() && $this->pictures->isEmpty();
    }
}
