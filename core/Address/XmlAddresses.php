<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * The pages of a document in XML that lists some: property lists (reading lists), XBEL, OPML, feeds in RSS and Atom (RFC 4287), sitemaps.
 * A damaged end loses only itself.
 */
final class XmlAddresses
{
    private const ROOTS = 'plist|xbel|opml|rss|feed|urlset|rdf:RDF';
    /** They say something of the element around them. */
    private const SAYS = ['title', 'loc', 'link', 'url'];
    /** What is in them is no page. */
    private const NO_PAGES = ['image', 'icon', 'logo', 'generator', 'metadata', 'author'];
    private const MOST_ELEMENTS = 1_000_000;
    private const PIECE = 65_536;
    private const LONGEST_TEXT = 65_536;

    /** @var list<array{name: string, text: string, isAlone: bool}> what is open: its words, and whether nothing lies in it */
    private array $open = [];
    private string $key = '';
    private int $skipped = 0;
    private int $elements = 0;

    private function __construct(private readonly \XMLParser $parser, private readonly ListedObjects $objects)
    {
    }

    public static function is(string $text): bool
    {
        return 1 === preg_match('~^\s*(?:<\?xml[^>]*>\s*)?(?:<!--.*?-->\s*|<!DOCTYPE[^>\[]*>\s*)*<(?:'.self::ROOTS.')[\s>]~s',
            substr($text, 0, 8_192));
    }

    /** @return list<ListedAddress> */
    public static function in(string $text, int $most): array
    {
        // No such list needs entities of its own; some of them are made to be replaced without end.
        if (false !== stripos($text, '<!ENTITY')) {
            return [];
        }
        $parser = xml_parser_create_ns('UTF-8', ' ');
        xml_parser_set_option($parser, \XML_OPTION_CASE_FOLDING, 0);
        $objects = new ListedObjects($most);
        $self = new self($parser, $objects);
        xml_set_element_handler($parser, $self->start(...), $self->end(...));
        xml_set_character_data_handler($parser, $self->words(...));
        for ($at = 0; $at < \strlen($text) && !$objects->isFull() && $self->elements < self::MOST_ELEMENTS; $at += self::PIECE) {
            if (1 !== xml_parse($parser, substr($text, $at, self::PIECE), $at + self::PIECE >= \strlen($text))) {
                break;
            }
        }

        return $objects->all();
    }

    /** @param array<string, string> $attributes */
    private function start(\XMLParser $parser, string $name, array $attributes): void
    {
        $name = self::local($name);
        ++$this->elements;
        $above = array_key_last($this->open);
        if (null !== $above) {
            $this->open[$above]['isAlone'] = false;
        }
        $this->open[] = ['name' => $name, 'text' => '', 'isAlone' => true];
        if ($this->skipped > 0 || \in_array($name, self::NO_PAGES, true)) {
            ++$this->skipped;

            return;
        }
        $line = $this->line();
        if ('link' === $name && isset($attributes['href'])) {
            if (\in_array($attributes['rel'] ?? 'alternate', ['alternate', ''], true)) {
                $this->objects->text('href', $attributes['href'], $line);
            }
            ++$this->skipped;

            return;
        }
        $this->objects->open('', $line);
        foreach (['htmlUrl', 'href', 'url', 'xmlUrl'] as $attribute) {
            $this->objects->text('url', $attributes[$attribute] ?? '', $line);
        }
        $this->objects->text('title', $attributes['title'] ?? $attributes['text'] ?? '', $line);
    }

    private function end(\XMLParser $parser, string $name): void
    {
        $one = array_pop($this->open);
        if ($this->skipped > 0) {
            --$this->skipped;

            return;
        }
        $text = trim($one['text'] ?? '');
        $name = self::local($name);
        $saysKey = 'key' === $name ? '' : ('string' === $name ? $this->key : null);
        if (null !== $one && $one['isAlone'] && (null !== $saysKey || \in_array($name, self::SAYS, true))) {
            $this->key = 'key' === $name ? $text : '';
            $this->objects->drop();
            $this->objects->text($saysKey ?? ('loc' === $name ? 'url' : $name), $text, $this->line());

            return;
        }
        $this->objects->close();
    }

    private function words(\XMLParser $parser, string $text): void
    {
        $here = array_key_last($this->open);
        if (null !== $here && \strlen($this->open[$here]['text']) < self::LONGEST_TEXT) {
            $this->open[$here]['text'] .= $text;
        }
    }

    private function line(): int
    {
        return max(1, xml_get_current_line_number($this->parser));
    }

    private static function local(string $name): string
    {
        $at = strrpos($name, ' ');

        return false === $at ? $name : substr($name, $at + 1);
    }
}
