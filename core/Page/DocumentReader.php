<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Split;

/**
 * Walks a parsed page in reading order, without recursion, so that no nesting is too deep.
 *
 * @internal
 */
final class DocumentReader
{
    private const UNSEEN = ['script', 'style', 'template', 'noscript', 'head', 'title', 'iframe', 'object', 'audio', 'video', 'canvas', 'svg', 'math', 'select', 'textarea', 'datalist', 'noframes', 'noembed'];
    private const HEADINGS = ['h1', 'h2', 'h3', 'h4', 'h5', 'h6'];
    /** Elements that a reader's eye parts from what stands around them (HTML Living Standard, section 15.3). */
    private const BLOCKS = [
        'address', 'article', 'aside', 'blockquote', 'body', 'button', 'center', 'dd', 'details', 'dialog', 'dir', 'div', 'dl', 'fieldset', 'figure', 'footer', 'form', 'frameset',
        'header', 'hgroup', 'hr', 'html', 'legend', 'main', 'menu', 'nav', 'ol', 'option', 'p', 'search', 'section', 'summary', 'table', 'tbody', 'tfoot', 'thead', 'tr', 'ul',
    ];

    /** @var list<Passage> */
    private array $passages = [];
    /** @var list<Link> */
    private array $links = [];
    /** @var list<Picture> */
    private array $pictures = [];
    private string $pending = '';
    private string $title = '';
    private string $description = '';
    private ?Url $base;
    /** @var list<array{\DOMElement, int}> links that are open, and where their text began */
    private array $openLinks = [];
    private string $linkText = '';

    public function __construct(private readonly \DOMDocument $dom, ?Url $url)
    {
        $this->base = $url;
    }

    public function read(): Document
    {
        $this->about();
        $node = $this->dom->documentElement;
        $language = $node?->getAttribute('lang');
        while (null !== $node) {
            $entered = $this->enter($node);
            if ($entered && null !== $node->firstChild) {
                $node = $node->firstChild;
                continue;
            }
            if ($entered) {
                $this->leave($node);
            }
            while (null === $node->nextSibling && null !== $node->parentNode && $node->parentNode !== $this->dom) {
                $node = $node->parentNode;
                $this->leave($node);
            }
            $node = $node->nextSibling;
        }
        $this->flush(PassageKind::Sentence);

        return new Document($this->title, $this->description, '' === $language ? null : $language, $this->passages, $this->links, $this->pictures);
    }

    /** @return bool whether what lies inside is to be read */
    private function enter(\DOMNode $node): bool
    {
        if ($node instanceof \DOMText) {
            $this->pending .= $node->data;
            $this->linkText .= [] === $this->openLinks ? '' : $node->data;

            return false;
        }
        if (!$node instanceof \DOMElement) {
            return false;
        }
        $name = strtolower($node->localName ?? '');
        // What stands in a declared shadow root is shown (HTML Living Standard, section 4.12.3).
        $shown = !\in_array($name, self::UNSEEN, true) || ('template' === $name && $node->hasAttribute('shadowrootmode'));
        if (!$shown || self::isHidden($node)) {
            return false;
        }
        match (true) {
            'br' === $name => $this->lineBreak($node),
            'img' === $name => $this->picture($node),
            'a' === $name || 'area' === $name => $this->openLink($node),
            null !== $this->kindOf($name) || \in_array($name, self::BLOCKS, true) => $this->flush($this->kindAround($node)),
            default => null,
        };

        return true;
    }

    private function leave(\DOMNode $node): void
    {
        $name = $node instanceof \DOMElement ? strtolower($node->localName ?? '') : '';
        if ('a' === $name || 'area' === $name) {
            $this->closeLink($node);
        }
        $kind = $this->kindOf($name);
        if (null !== $kind) {
            $this->flush($kind);
        } elseif (\in_array($name, self::BLOCKS, true)) {
            $this->flush($node instanceof \DOMElement ? $this->kindAround($node) : PassageKind::Sentence);
        }
    }

    private function kindOf(string $name): ?PassageKind
    {
        return match (true) {
            \in_array($name, self::HEADINGS, true) => PassageKind::Heading,
            'li' === $name => PassageKind::Item,
            'td' === $name, 'th' === $name => PassageKind::Cell,
            'caption' === $name, 'figcaption' === $name => PassageKind::Caption,
            'pre' === $name, 'listing' === $name, 'plaintext' === $name, 'xmp' === $name => PassageKind::Line,
            'dt' === $name => PassageKind::Term,
            default => null,
        };
    }

    /** What text is that stands in this element without an inner block of its own. */
    private function kindAround(\DOMElement $element): PassageKind
    {
        for ($node = $element->parentNode, $steps = 0; $node instanceof \DOMElement && $steps < 6; $node = $node->parentNode, ++$steps) {
            $kind = $this->kindOf(strtolower($node->localName ?? ''));
            if (null !== $kind) {
                return $kind;
            }
        }

        return PassageKind::Sentence;
    }

    private function flush(PassageKind $kind): void
    {
        $pending = $this->pending;
        $this->pending = '';
        if ('' === trim($pending)) {
            return;
        }
        $pieces = match ($kind) {
            PassageKind::Sentence => Text::sentences(Text::normalise($pending)),
            PassageKind::Line => array_map(Text::normalise(...), Split::by('/\R/u', $pending)),
            default => [Text::normalise($pending)],
        };
        foreach ($pieces as $piece) {
            if ('' !== $piece) {
                $this->passages[] = new Passage($kind, $piece);
            }
        }
    }

    private function lineBreak(\DOMElement $element): void
    {
        if (PassageKind::Sentence === $this->kindAround($element)) {
            $this->flush(PassageKind::Sentence);
        } else {
            $this->pending .= "\n";
        }
        $this->linkText .= ' ';
    }

    private function picture(\DOMElement $element): void
    {
        $src = trim($element->getAttribute('src'));
        if ('' !== $src) {
            $this->pictures[] = new Picture($this->resolve($src), Text::normalise($element->getAttribute('alt')));
        }
    }

    private function openLink(\DOMElement $element): void
    {
        if ($element->hasAttribute('href')) {
            if ([] === $this->openLinks) {
                $this->linkText = '';
            }
            $this->openLinks[] = [$element, \strlen($this->linkText)];
        }
    }

    private function closeLink(\DOMNode $node): void
    {
        $last = end($this->openLinks);
        if (false === $last || $last[0] !== $node) {
            return;
        }
        array_pop($this->openLinks);
        $href = trim($last[0]->getAttribute('href'));
        if ('' !== $href && 1 !== preg_match('/^(?:javascript|data):/i', $href)) {
            $this->links[] = new Link(Text::normalise(substr($this->linkText, $last[1])), $this->resolve($href));
        }
    }

    private function resolve(string $reference): string
    {
        $url = null === $this->base ? null : Url::tryParse($reference, $this->base);

        return null === $url ? $reference : (string) $url;
    }

    /** Title, description and base. */
    private function about(): void
    {
        $title = $this->dom->getElementsByTagName('title')->item(0);
        $this->title = Text::normalise($title->textContent ?? '');
        foreach ($this->dom->getElementsByTagName('meta') as $meta) {
            if ('' === $this->description && 0 === strcasecmp($meta->getAttribute('name'), 'description')) {
                $this->description = Text::normalise($meta->getAttribute('content'));
            }
        }
        $base = $this->dom->getElementsByTagName('base')->item(0)?->getAttribute('href') ?? '';
        if ('' !== $base) {
            $this->base = Url::tryParse($base, $this->base) ?? $this->base;
        }
    }

    private static function isHidden(\DOMElement $element): bool
    {
        if ($element->hasAttribute('hidden')) {
            return true;
        }
        $style = $element->getAttribute('style');

        return '' !== $style && 1 === preg_match('/(?:^|;)\s*(?:display\s*:\s*none|visibility\s*:\s*hidden)\b/i', $style);
    }
}
