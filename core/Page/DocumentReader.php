<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Html\Tree;
use Ypomna\Core\Split;

/**
 * Walks a page in reading order, without recursion, so that no nesting is too deep.
 *
 * @internal
 */
final class DocumentReader
{
    private const KINDS = [
        'h1' => PassageKind::Heading, 'h2' => PassageKind::Heading, 'h3' => PassageKind::Heading, 'h4' => PassageKind::Heading,
        'h5' => PassageKind::Heading, 'h6' => PassageKind::Heading,
        'li' => PassageKind::Item, 'option' => PassageKind::Item, 'td' => PassageKind::Cell, 'th' => PassageKind::Cell,
        'caption' => PassageKind::Caption, 'figcaption' => PassageKind::Caption,
        'pre' => PassageKind::Line, 'listing' => PassageKind::Line, 'plaintext' => PassageKind::Line, 'xmp' => PassageKind::Line,
        'textarea' => PassageKind::Line, 'dt' => PassageKind::Term, 'dd' => PassageKind::Sentence,
    ];
    /** Elements that a reader's eye parts from what stands around them (HTML Living Standard, section 15.3). */
    private const BLOCKS = [
        'address' => 1, 'article' => 1, 'aside' => 1, 'blockquote' => 1, 'body' => 1, 'button' => 1, 'center' => 1, 'details' => 1,
        'dialog' => 1, 'dir' => 1, 'div' => 1, 'dl' => 1, 'fieldset' => 1, 'figure' => 1, 'footer' => 1, 'form' => 1,
        'frameset' => 1, 'header' => 1, 'hgroup' => 1, 'hr' => 1, 'html' => 1, 'legend' => 1, 'main' => 1, 'menu' => 1, 'nav' => 1,
        'ol' => 1, 'optgroup' => 1, 'p' => 1, 'search' => 1, 'section' => 1, 'select' => 1, 'summary' => 1, 'table' => 1,
        'tbody' => 1, 'tfoot' => 1, 'thead' => 1, 'tr' => 1, 'ul' => 1, 'text' => 1,
    ];
    /** A cell that says so much in sentences is one of a table that lays out a page. */
    private const LONG_CELL = 250;
    /** A line that was broken because it was full, in bytes. */
    private const FULL_LINE = 45;
    private const LONGEST_PATH = 1_500;
    /** More of them are not read: whoever writes so many wants to cost time. */
    private const MOST_LINKS = 50_000;
    private const MOST_PICTURES = 20_000;

    /** @var list<Passage> */
    private array $passages = [];
    /** @var list<Passage> */
    private array $hidden = [];
    /** @var array<int, Link> */
    private array $links = [];
    /** @var list<int> links of the text that waits */
    private array $waitingLinks = [];
    /** @var list<Picture> */
    private array $pictures = [];
    private string $pending = '';
    private string $hiddenPending = '';
    private string $heading = '';
    private int $block = 0;
    /** @var list<array{int, int}> links that are open, and where their text began */
    private array $openLinks = [];
    private string $linkText = '';
    /** @var list<ReadingPlace> the elements around, the outermost first */
    private array $around = [];
    private readonly TableGrid $grid;

    public function __construct(private readonly Tree $tree, private ?Url $base)
    {
        $this->grid = new TableGrid();
    }

    public function read(): Document
    {
        $about = PageFacts::of($this->tree, $this->base);
        $this->base = $about->base;
        $this->around[] = new ReadingPlace(0, '', '', null, true, false);
        while ([] !== $this->around && \count($this->passages) < Document::MOST_PASSAGES) {
            $place = $this->around[\count($this->around) - 1];
            $child = $place->nextChild($this->tree);
            if (null === $child) {
                $this->leave($place);
                array_pop($this->around);
            } elseif ($this->tree->isText($child)) {
                $this->text($this->tree->text($child), $place);
            } else {
                $this->enter($child, $place);
            }
        }
        $isCut = [] !== $this->around || $this->tree->isCut;
        $this->around = [];
        $this->flush(PassageKind::Sentence);

        return new Document(
            $about->title, $about->description, $about->language, $this->passages, array_values($this->links), $this->pictures,
            $this->hidden, $about->metadata, $about->structured, $about->parts, $isCut,
        );
    }

    private function text(string $text, ReadingPlace $place): void
    {
        if ($place->isSvg && !$place->inSvgText) {
            return;
        }
        if (!$place->isSeen) {
            $this->hiddenPending .= $text;

            return;
        }
        $this->pending .= $text;
        $this->linkText .= [] === $this->openLinks ? '' : $text;
    }

    private function enter(int $node, ReadingPlace $parent): void
    {
        $name = $this->tree->name($node);
        if (Visibility::isNoText($this->tree, $node, $name) || ($parent->isSvg && 'title' === $name)) {
            return;
        }
        $seen = $parent->isAway || Visibility::isAway($this->tree, $node, $name)
            ? false
            : (Visibility::seen($this->tree, $node) ?? $parent->isSeen);
        if ($seen) {
            match ($name) {
                'br' => $this->lineBreak($parent),
                'img' => $this->picture($node),
                'input' => $this->buttonLabel($node),
                'a', 'area' => $this->openLink($node),
                default => $this->isPicture($node, $name) ? $this->picture($node) : null,
            };
        }
        $kind = self::KINDS[$name] ?? null;
        $isBlock = null !== $kind || isset(self::BLOCKS[$name])
            || ('span' === $name || 'a' === $name ? Visibility::isBlock($this->tree, $node) : false);
        if ($isBlock) {
            $this->flush($parent->kind());
        }
        $this->grid->enter($name, $this->tree, $node);
        $place = new ReadingPlace($node, $name, $this->step($node, $name, $parent), $parent, $seen, $isBlock);
        $place->isAway = $parent->isAway || (!$seen && Visibility::isAway($this->tree, $node, $name));
        $place->isSvg = 'svg' === $name || ($parent->isSvg && 'foreignobject' !== $name);
        $place->inSvgText = $parent->inSvgText || 'text' === $name;
        $place->own = $this->ownKind($node, $kind, $name, $parent);
        $this->around[] = $place;
    }

    /** What text right inside of that element is; null where its surroundings decide. */
    private function ownKind(int $node, ?PassageKind $kind, string $name, ReadingPlace $parent): ?PassageKind
    {
        if (PassageKind::Cell === $kind) {
            return $this->grid->isLayout() || !SinglePiece::isOne($this->tree, $node) ? PassageKind::Sentence : PassageKind::Cell;
        }
        if (null === $kind && isset(['p' => 1, 'div' => 1, 'section' => 1, 'article' => 1, 'blockquote' => 1][$name])
            && PassageKind::Item === $parent->kind()) {
            $item = $parent->item();

            return null !== $item && $item->isOne($this->tree) ? null : PassageKind::Sentence;
        }

        return $kind;
    }

    private function step(int $node, string $name, ReadingPlace $parent): string
    {
        return '' === $name || 'html' === $name
            ? $name
            : PathStep::write($name, $this->tree->attribute($node, 'id'), $this->tree->attribute($node, 'class'), $parent->countOf($name));
    }

    private function leave(ReadingPlace $place): void
    {
        if ('a' === $place->name || 'area' === $place->name) {
            $this->closeLink($place->node);
        }
        if ($place->isBlock) {
            $this->flush($place->kind());
        }
        $this->grid->leave($place->name);
    }

    private function flush(PassageKind $kind): void
    {
        $this->flushHidden();
        $pending = $this->pending;
        $this->pending = '';
        if ('' === trim($pending)) {
            $this->waitingLinks = [];

            return;
        }
        $whole = Text::normalise($pending);
        if (PassageKind::Cell === $kind && \strlen($whole) > self::LONG_CELL) {
            $sentences = Text::sentences($whole);
            $kind = \count($sentences) > 2 ? PassageKind::Sentence : $kind;
        }
        $pieces = match ($kind) {
            PassageKind::Sentence => $sentences ?? Text::sentences($whole),
            PassageKind::Line => array_map(Text::normalise(...), Split::by('/\R/u', $pending)),
            default => [$whole],
        };
        $first = \count($this->passages);
        $cell = PassageKind::Cell === $kind ? $this->grid->place() : null;
        $path = $this->path();
        foreach ($pieces as $piece) {
            if ('' !== $piece) {
                $this->passages[] = new Passage($kind, $piece, $cell, $this->heading, $path, $this->block);
            }
        }
        ++$this->block;
        if (PassageKind::Heading === $kind) {
            $this->heading = mb_strcut($whole, 0, 200);
        }
        $this->assignLinks($first);
    }

    private function flushHidden(): void
    {
        $text = Text::normalise($this->hiddenPending);
        $this->hiddenPending = '';
        if ('' !== $text) {
            foreach (\array_slice(Text::sentences($text), 0, max(0, Document::MOST_PASSAGES - \count($this->hidden))) as $sentence) {
                $this->hidden[] = new Passage(PassageKind::Sentence, $sentence, null, $this->heading, $this->path(), $this->block);
            }
        }
    }

    private function path(): string
    {
        $path = '';
        for ($i = \count($this->around) - 1; $i > 0 && \strlen($path) < self::LONGEST_PATH; --$i) {
            $path = $this->around[$i]->step.('' === $path ? '' : ' '.$path);
        }

        return $path;
    }

    /** Finds for each link of the text that became passages the one in which it stands. */
    private function assignLinks(int $first): void
    {
        if ([] === $this->waitingLinks) {
            return;
        }
        $at = $first;
        $last = \count($this->passages) - 1;
        foreach ($this->waitingLinks as $number) {
            $link = $this->links[$number];
            for ($i = $at; $i <= $last; ++$i) {
                if ('' !== $link->text && str_contains($this->passages[$i]->text, $link->text)) {
                    $at = $i;
                    break;
                }
            }
            $this->links[$number] = $link->in(min($at, $last));
        }
        $this->waitingLinks = [];
    }

    private function lineBreak(ReadingPlace $place): void
    {
        $kind = $place->kind();
        if (PassageKind::Sentence === $kind && !$this->runsOn($place)) {
            $this->flush($kind);
        } else {
            $this->pending .= "\n";
        }
        $this->linkText .= ' ';
    }

    /** Whether a sentence goes on behind a line break: old pages break lines by hand. */
    private function runsOn(ReadingPlace $place): bool
    {
        if (\strlen(Text::normalise((string) strrchr("\n".$this->pending, "\n"))) < self::FULL_LINE
            || 1 === preg_match('/(?:[.!?…:;。！？؟।]["\'”’»)]?|^)\s*$/uD', $this->pending)) {
            return false;
        }
        $next = $place->peek($this->tree);

        return null !== $next && 1 === preg_match('/^\s*[\p{Ll}\p{N}(,]/u', mb_strcut($next, 0, 200));
    }

    /** An element of a page's own making that becomes a picture, and has not yet. */
    private function isPicture(int $node, string $name): bool
    {
        $src = trim($this->tree->attribute($node, 'src') ?? '');
        if ('' === $src || 1 !== preg_match('/^[a-z][a-z0-9.]*-(?:.*-)?(?:img|image|picture|anim)$/D', $name)) {
            return false;
        }
        foreach ($this->tree->children($node) as $child) {
            if (\in_array($this->tree->name($child), ['img', 'picture'], true)) {
                return false;
            }
        }

        return true;
    }

    private function picture(int $node): void
    {
        $src = trim($this->tree->attribute($node, 'src') ?? '');
        if ('' === $src || (str_starts_with($src, 'data:') && \strlen($src) < 400)) {
            // What stands in for a picture until it comes into sight.
            $set = (string) preg_replace(
                '/[\s,].*$/sD', '', trim($this->tree->attribute($node, 'data-srcset') ?? $this->tree->attribute($node, 'srcset') ?? ''),
            );
            $later = trim($this->tree->attribute($node, 'data-src') ?? $set);
            $src = '' === $later ? $src : $later;
        }
        if ('' !== $src && \count($this->pictures) < self::MOST_PICTURES) {
            $this->pictures[] = new Picture(
                $this->resolve($src), Text::normalise($this->tree->attribute($node, 'alt') ?? ''), \count($this->passages), $this->path(),
            );
        }
    }

    private function buttonLabel(int $node): void
    {
        if (\in_array(strtolower($this->tree->attribute($node, 'type') ?? ''), ['submit', 'button', 'reset'], true)) {
            $this->pending .= ' '.($this->tree->attribute($node, 'value') ?? '').' ';
        }
    }

    private function openLink(int $node): void
    {
        if (null !== ($this->tree->attribute($node, 'href') ?? $this->tree->attribute($node, 'xlink:href'))) {
            if ([] === $this->openLinks) {
                $this->linkText = '';
            }
            $this->openLinks[] = [$node, \strlen($this->linkText)];
        }
    }

    private function closeLink(int $node): void
    {
        $last = end($this->openLinks);
        if (false === $last || $last[0] !== $node) {
            return;
        }
        array_pop($this->openLinks);
        $href = trim($this->tree->attribute($node, 'href') ?? $this->tree->attribute($node, 'xlink:href') ?? '');
        if ('' !== $href && \count($this->links) < self::MOST_LINKS && 1 !== preg_match('/^(?:javascript|data):/i', $href)) {
            $isWaiting = '' !== trim($this->pending);
            $this->links[] = new Link(
                Text::normalise(substr($this->linkText, $last[1])), $this->resolve($href), \count($this->passages) - 1,
            );
            if ($isWaiting) {
                $this->waitingLinks[] = \count($this->links) - 1;
            }
        }
    }

    private function resolve(string $reference): string
    {
        $url = null === $this->base ? null : Url::tryParse($reference, $this->base);

        return null === $url ? $reference : (string) $url;
    }
}
