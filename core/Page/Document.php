<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Html\Tree;
use Ypomna\Core\Html\TreeBuilder;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Split;

/**
 * A page as a reader sees it: its text in passages, its links and pictures, what it says of itself.
 */
final readonly class Document
{
    /** More of a page than this is not read, in bytes. */
    public const MAX_BYTES = 8_388_608;
    /** More passages of a page are not read: half a million words and more. */
    public const MOST_PASSAGES = 50_000;
    /** Of a table in a text, in bytes. */
    private const LONGEST_ROW = 524_288;

    /**
     * @param list<Passage> $passages in reading order
     * @param list<Link> $links
     * @param list<Picture> $pictures
     * @param list<Passage> $hidden text that stands in the page and is not shown
     * @param array<string, string> $metadata what the page says of itself, by name in lower case
     * @param list<string> $structured JSON-LD as it stands
     * @param list<EmbeddedPart> $parts scripts, styles, frames and the like
     */
    public function __construct(
        public string $title,
        public string $description,
        public ?string $language,
        public array $passages,
        public array $links,
        public array $pictures,
        public array $hidden = [],
        public array $metadata = [],
        public array $structured = [],
        public array $parts = [],
        /** Whether there is more of the page than was read. */
        public bool $isCut = false,
    ) {
    }

    /**
     * @param string $bytes of any encoding
     * @param string|null $contentType the Content-Type field, for its charset
     * @param string|null $url where the page stood, to resolve its references against
     */
    public static function fromHtml(string $bytes, ?string $contentType = null, ?string $url = null): self
    {
        return self::fromTree(self::tree($bytes, $contentType), $url);
    }

    public static function fromTree(Tree $tree, ?string $url = null): self
    {
        return (new DocumentReader($tree, null === $url ? null : Url::tryParse($url)))->read();
    }

    /** @param string $bytes of any encoding */
    public static function tree(string $bytes, ?string $contentType = null): Tree
    {
        $bytes = substr($bytes, 0, self::MAX_BYTES);

        return TreeBuilder::tree(Charset::text($bytes, $contentType));
    }

    /** A text without markup: each line is a paragraph. */
    public static function fromText(string $text): self
    {
        $passages = [];
        foreach (Split::each('/\R/u', mb_scrub(substr($text, 0, self::MAX_BYTES))) as $line) {
            foreach (Text::sentences(Text::normalise($line)) as $sentence) {
                $passages[] = new Passage(PassageKind::Sentence, $sentence);
            }
            if (\count($passages) >= self::MOST_PASSAGES) {
                break;
            }
        }

        return new self(
            '', '', null, \array_slice($passages, 0, self::MOST_PASSAGES), [], [], isCut: \count($passages) >= self::MOST_PASSAGES,
        );
    }

    /**
     * A table in comma-separated values (RFC 4180), with other separators where the first line has more of them.
     */
    public static function fromCsv(string $bytes, ?string $contentType = null): self
    {
        $bytes = substr($bytes, 0, self::MAX_BYTES);
        $text = Charset::text($bytes, $contentType ?? 'text/csv; charset=utf-8');
        $first = (string) strtok($text, "\r\n");
        $separator = ',';
        foreach ([';', "\t", '|'] as $other) {
            $separator = substr_count($first, $other) > substr_count($first, $separator) ? $other : $separator;
        }
        $stream = fopen('php://temp', 'w+');
        if (false === $stream) {
            throw new \RuntimeException('There is no room in memory for a table.');
        }
        // A row of nothing but separators would be millions of cells.
        fwrite($stream, (string) preg_replace('/'.preg_quote($separator, '/').'{2000,}/', str_repeat($separator, 2_000), $text));
        rewind($stream);
        $passages = [];
        for ($row = 0; \count($passages) < self::MOST_PASSAGES
            && \is_array($cells = fgetcsv($stream, self::LONGEST_ROW, $separator, '"', '')); ++$row) {
            foreach ($cells as $column => $cell) {
                $value = Text::normalise(mb_scrub((string) $cell));
                if ('' !== $value) {
                    $passages[] = new Passage(PassageKind::Cell, $value, new CellPlace(0, $row, $column, 0 === $row), '', '', $row);
                }
            }
        }
        fclose($stream);

        return new self(
            '', '', null, \array_slice($passages, 0, self::MOST_PASSAGES), [], [], isCut: \count($passages) >= self::MOST_PASSAGES,
        );
    }

    /**
     * A text in pages, as a printed document has it; each page stands below a heading with its number.
     *
     * @param list<string> $pages
     */
    public static function fromPages(array $pages): self
    {
        $passages = [];
        $block = 0;
        foreach ($pages as $number => $page) {
            foreach (Split::by('/\R\s*\R/u', mb_scrub($page)) as $paragraph) {
                ++$block;
                foreach (Text::sentences(Text::normalise((string) preg_replace(
                    '/(?<=\p{L})-\R\s*(?=\p{Ll})/u', '', $paragraph,
                ))) as $sentence) {
                    $passages[] = new Passage(PassageKind::Sentence, $sentence, null, 'p. '.($number + 1), 'page:'.($number + 1), $block);
                    if (\count($passages) >= self::MOST_PASSAGES) {
                        break 3;
                    }
                }
            }
        }

        return new self('', '', null, $passages, [], [], isCut: \count($passages) >= self::MOST_PASSAGES);
    }

    /** All text, a passage a line. */
    /**
     * Without the passages that another page has as well, and the links in them.
     */
    public function without(self $other): self
    {
        $there = [];
        foreach ($other->passages as $passage) {
            $there[$passage->key] = true;
        }
        $passages = $numbers = [];
        foreach ($this->passages as $n => $passage) {
            if (!isset($there[$passage->key])) {
                $numbers[$n] = \count($passages);
                $passages[] = $passage;
            }
        }
        $links = [];
        foreach ($this->links as $link) {
            if (isset($numbers[$link->passage])) {
                $links[] = $link->in($numbers[$link->passage]);
            }
        }

        return new self(
            $this->title, $this->description, $this->language, $passages, $links, $this->pictures, $this->hidden, $this->metadata,
            $this->structured, $this->parts, $this->isCut,
        );
    }

    public function text(): string
    {
        return implode("\n", array_map(static fn (Passage $passage): string => $passage->text, $this->passages));
    }
}
