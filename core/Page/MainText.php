<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/**
 * What a page was opened for: the article without its surroundings, and whether it is one at all.
 *
 * The part of the page is looked for that holds most of what reads like running text: blocks of sentences with few links in
 * them. From the whole page inwards, each step goes to the one element that still holds nearly all of it. Within it everything
 * counts but what stands around an article by its element, by its name, or by being links.
 */
final readonly class MainText
{
    /**
     * @param string $text paragraphs, parted by an empty line
     * @param string|null $published as 2024-11-03
     * @param float $confidence 0 to 1, that it is an article, or that it is none
     */
    public function __construct(
        public string $title,
        public ?string $byline,
        public ?string $published,
        public ?string $language,
        public string $text,
        public bool $isArticle,
        public float $confidence,
        public int $words,
    ) {
    }

    /** @param string $bytes of any encoding */
    public static function fromHtml(string $bytes, ?string $contentType = null, ?string $url = null): self
    {
        $tree = Document::tree($bytes, $contentType);

        return self::of($tree, Document::fromTree($tree, $url));
    }

    /** @param Document $document of that tree */
    public static function of(Tree $tree, Document $document): self
    {
        return (new MainTextReader($tree, $document))->read();
    }
}
