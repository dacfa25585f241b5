<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;
use Ypomna\Core\Split;

/**
 * Headline, author, date and language of a page: from what it says of itself for programs (schema.org in JSON-LD and microdata,
 * Open Graph, Dublin Core), else from what a reader sees around the text.
 *
 * @internal
 */
final class ArticleFacts
{
    /**
     * So many links right below a heading are what it stands over; how much of one is links to be one; passages among which a headline is.
     */
    /** A search and what it found, in lower case. */
    private const FOUND = '/search\s+results?\b|^\s*(?:search|suche|recherche|b[úu]squeda|ricerca|zoeken|αναζήτηση|поиск)\s*$'
        .'|\bresults?\s+(?:for\s*["“”„‘\'«]|of your search)|^\s*[\d.,]+ results?\b'
        .'|suchergebnis|treffer für\s*["“”„«»]|ergebnisse für\s*["“”„«»]|zoekresultat|sökresultat|søgeresultat|søkeresultat|hakutulokset'
        .'|résultats?\s+de (?:la |votre )?recherche|résultats pour\s*[«"“]'
        .'|resultados?\s+(?:de (?:la )?b[úu]squeda|da (?:busca|pesquisa)|para\s*["“«])|risultati\s+(?:della ricerca|per\s*["“«])'
        .'|rezultat\w*\s+(?:căut\w*|pretra\w*|iskanja)|wyniki wyszukiwania'
        .'|výsledky (?:vyhledávání|hľadania|vyhľadávania)|keresési (?:eredmény|találat)|arama sonuçları'
        .'|αποτελέσματα\s*(?:αναζήτησης|για\s*["“«:])|результат\w*\s+(?:поиска|пошуку)|резултати\s+(?:от търсене|претраге)|найдено\s+\d'
        .'|نتائج (?:البحث|بحث)|نتایج جستجو|תוצאות ה?חיפוש|खोज परिणाम|ผลการค้นหา'
        .'|kết quả tìm kiếm|hasil pencarian|検索結果|の検索$|搜索结果|搜尋結果|搜寻结果|검색\s*결과/mu';
    private const BELOW = 2;
    private const LINK = 0.7;
    private const FIRST = 200;

    private const PARTS = '/\s+[|•·»›—–-]\s+|\s*[|»]\s*|\s+::\s+|:\s+(?=\p{Lu})/u';
    private const BYLINE = '/[#.](?:[\w-]*[-_])?(?:by|byline|author|writer|reporter|autor\w*|auteur|verfasser|'
        .'posted-?by)(?:[-_][\w-]*)?(?=[.:#\s]|$)/i';
    private const DATED = '/[#.](?:[\w-]*[-_])?(?:dateline|date|datum|published|pubdate|timestamp|time|updated|'
        .'posted)(?:[-_][\w-]*)?(?=[.:#\s]|$)|(?:^| )time[#.:]/i';

    /** @var array<array-key, mixed> */
    private array $structured = [];
    private ?string $bylineText = null;

    public function __construct(private readonly Tree $tree, private readonly Document $document)
    {
        foreach ($document->structured as $json) {
            $data = json_decode($json, true, 32);
            $graph = \is_array($data) ? $data['@graph'] ?? null : null;
            foreach (\is_array($graph) ? $graph : (\is_array($data) && array_is_list($data) ? $data : [$data]) as $item) {
                $type = \is_array($item) ? $item['@type'] ?? '' : '';
                if (\is_array($item)
                    && 1 === preg_match(
                        '/Article|Posting|Report|NewsArticle/',
                        \is_array($type) ? implode(' ', array_filter($type, \is_string(...))) : (\is_string($type) ? $type : ''),
                    )) {
                    $this->structured = $item;
                }
            }
        }
    }

    public function saysArticle(): bool
    {
        return [] !== $this->structured || 1 === preg_match('/^article/i', $this->document->metadata['og:type'] ?? '')
            || isset($this->document->metadata['article:published_time']);
    }

    public function saysOther(): bool
    {
        return 1 === preg_match('/^(?:website|product|profile)$/i', $this->document->metadata['og:type'] ?? '');
    }

    /** Whether its title or one of its first headings says that it shows what was searched for. */
    public function saysFound(): bool
    {
        $said = [$this->document->title];
        foreach ($this->document->passages as $passage) {
            if (PassageKind::Heading === $passage->kind && \count($said) < 4) {
                $said[] = $passage->text;
            }
        }

        return 1 === preg_match(self::FOUND, mb_strtolower(implode("\n", $said)));
    }

    /** @param string $container the way to the element that holds the article */
    public function title(string $container): string
    {
        $whole = $this->document->title;
        $best = '';
        $bestScore = 0.0;
        $linked = $this->linked();
        foreach ($this->document->passages as $n => $passage) {
            if (PassageKind::Heading !== $passage->kind || $this->isOverLinks($n, $linked)
                || 1 === preg_match('/(?:^| )(?:nav|aside|footer)[#.:]/', $passage->path)) {
                continue;
            }
            $level = 1 === preg_match('/ h(\d)[^ ]*(?: [^ ]+)*$/', $passage->path, $m) ? (int) $m[1] : 6;
            $score = 1.2 - 0.25 * $level + ('' !== $whole && str_contains(mb_strtolower($whole), mb_strtolower($passage->text)) ? 1.5 : 0.0)
                + ('' !== $container && str_starts_with($passage->path, $container) ? 0.3 : 0.0)
                - 0.02 * min(20, $n)
                - (mb_strlen($passage->text) < 4 ? 0.8 : 0.0);
            if ($score > $bestScore) {
                [$best, $bestScore] = [$passage->text, $score];
            }
        }
        $said = $this->text($this->structured['headline'] ?? null) ?? $this->document->metadata['og:title'] ?? '';
        $said = $this->withoutSite('' === $said ? $whole : $said);

        return match (true) {
            '' === $best => $said,
            // Of old, a headline was set in larger letters and said to be nothing; what is a heading there stands over something else.
            $bestScore < 1.2 && '' !== $said && self::likeness($best, $said) < 0.3 && $this->standsAs($said) => $said,
            // A first heading that is the name of the site is not the headline.
            $bestScore < 1.2 && '' !== $said && self::likeness($best, $said) < 0.3 && $best === $this->site() => $said,
            default => $best,
        };
    }

    /** @return array<int, float> what share of a passage is links, by its number */
    private function linked(): array
    {
        $linked = [];
        foreach ($this->document->links as $link) {
            $linked[$link->passage] = ($linked[$link->passage] ?? 0.0) + mb_strlen($link->text) / max(
                1, mb_strlen($this->document->passages[$link->passage]->text ?? ''),
            );
        }

        return $linked;
    }

    /**
     * Whether a heading stands over a list of further stories.
     *
     * @param array<int, float> $linked
     */
    private function isOverLinks(int $heading, array $linked): bool
    {
        $text = $this->document->passages[$heading]->text ?? '';
        if (($linked[$heading] ?? 0.0) > self::LINK || str_contains(mb_strtolower($this->document->title), mb_strtolower($text))) {
            return false;
        }
        for ($n = $heading + 1; $n <= $heading + self::BELOW; ++$n) {
            if (($linked[$n] ?? 0.0) <= self::LINK) {
                return false;
            }
        }

        return true;
    }

    /** Whether these words stand on the page by themselves. */
    private function standsAs(string $title): bool
    {
        $title = mb_strtolower($title);
        foreach (\array_slice($this->document->passages, 0, self::FIRST) as $passage) {
            if (PassageKind::Heading !== $passage->kind && mb_strtolower(trim($passage->text)) === $title) {
                return true;
            }
        }

        return false;
    }

    private function site(): string
    {
        return $this->document->metadata['og:site_name'] ?? $this->document->metadata['application-name'] ?? '';
    }

    private function withoutSite(string $title): string
    {
        $parts = array_values(array_filter(
            array_map(trim(...), explode("\x1F", (string) preg_replace(self::PARTS, "\x1F", $title))),
            static fn (string $part): bool => '' !== $part,
        ));
        if (\count($parts) < 2) {
            return $title;
        }
        $site = $this->site();
        $rest = array_values(array_filter($parts, static fn (string $part): bool => '' === $site || 0 !== strcasecmp($part, $site)));
        usort($rest, static fn (string $a, string $b): int => mb_strlen($b) <=> mb_strlen($a));

        return $rest[0] ?? $title;
    }

    private static function likeness(string $a, string $b): float
    {
        similar_text(mb_strtolower($a), mb_strtolower($b), $percent);

        return $percent / 100;
    }

    public function byline(): ?string
    {
        if (null !== $this->bylineText) {
            return '' === $this->bylineText ? null : $this->bylineText;
        }
        $author = $this->structured['author'] ?? null;
        $names = [];
        foreach (\is_array($author) && array_is_list($author) ? $author : [$author] as $one) {
            $name = $this->text(\is_array($one) ? $one['name'] ?? null : $one);
            if (null !== $name) {
                $names[] = $name;
            }
        }
        $found = [] === $names ? null : implode(', ', $names);
        foreach (['author', 'article:author', 'dc.creator', 'dcterms.creator', 'parsely-author', 'sailthru.author'] as $name) {
            $value = $this->document->metadata[$name] ?? '';
            $found ??= '' === $value || 1 === preg_match('~^https?://~', $value) ? null : str_replace("\n", ', ', $value);
        }
        $found ??= $this->seen();
        $this->bylineText = null === $found ? '' : self::name($found);

        return '' === $this->bylineText ? null : $this->bylineText;
    }

    /** What stands in an element for it, or a line that begins with "By". */
    private function seen(): ?string
    {
        foreach (['a', 'span', 'p', 'div', 'address', 'meta'] as $tag) {
            foreach ($this->tree->elements($tag) as $node) {
                $marked = \in_array(
                    'author',
                    [strtolower($this->tree->attribute($node, 'rel') ?? ''), strtolower($this->tree->attribute($node, 'itemprop') ?? '')],
                    true,
                );
                if ($marked) {
                    $text = Text::normalise($this->tree->attribute($node, 'content') ?? $this->tree->textInside($node));
                    if ('' !== $text && mb_strlen($text) < 120) {
                        return $text;
                    }
                }
            }
        }
        foreach ($this->document->passages as $passage) {
            $isNamed = 1 === preg_match(
                self::BYLINE, (string) strrchr(' '.implode(' ', \array_slice(explode(' ', $passage->path), -2)), ' '),
            )
                || 1 === preg_match(self::BYLINE, implode(' ', \array_slice(explode(' ', $passage->path), -2)));
            if ($isNamed && mb_strlen($passage->text) < 120 && 1 === preg_match('/\p{L}{2}/u', self::name($passage->text))) {
                return $passage->text;
            }
            if (mb_strlen($passage->text) < 90
                && 1 === preg_match(
                    '/^(?:by|von|par|por|di|door|av|του|της|от|автор:?|بقلم:?|كتب:?|מאת:?|文[：:]|作者[：:]|著者[：:]|(?:posted|published|'
                        .'written)\b[^.!?]{0,40}\bby)\s*[\p{Lu}\p{Lo}][^.!?]{2,70}$/iu',
                    $passage->text,
                )) {
                return $passage->text;
            }
        }

        return null;
    }

    private static function name(string $text): string
    {
        $text = trim(PageDate::without($text));
        $text = (string) preg_replace(
            '/^\s*(?:(?:written|posted|published|reported)\s+(?:on\s+)?)?(?:by|von|par|por|di|door|av|του|της|от|автор:?|author:?|'
                .'autor:?|بقلم:?|كتب:?|מאת:?|文[：:]|作者[：:]|著者[：:])\s*:?\s*(?=\s|\p{Lo})/iu',
            '',
            $text,
        );
        // A date behind the name is none of it.
        $text = (string) preg_replace(
            '/\s*(?:[|•·,–—-]|\bon\b|\bam\b)\s*(?:(?:mon|tues?|wednes|thurs?|fri|satur|sun)(?:day)?,?\s*)?(?:\d{1,2}[.\s\/]|\d{4}-|'
                .'(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)\w*\s+\d).*$/iu',
            '',
            $text,
        );

        // Nor what led to the date.
        $text = (string) preg_replace('/[\s|•·,–—-]+(?:on|am|le|el|il|op|den|kl\.?|um|στις|в)?\s*$/iu', '', $text);

        return trim((string) preg_replace('/^[\s|•·,–—:-]+|[\s|•·,–—:-]+$/u', '', $text));
    }

    public function published(string $container): ?string
    {
        foreach ([$this->structured['datePublished'] ?? null, $this->structured['dateCreated'] ?? null] as $value) {
            $date = PageDate::find($this->text($value) ?? '');
            if (null !== $date) {
                return $date;
            }
        }
        foreach ([
            'article:published_time', 'datepublished', 'og:published_time', 'date', 'dc.date', 'dc.date.issued', 'dcterms.issued',
            'dcterms.created', 'dc.date.created', 'pubdate', 'publishdate', 'publish-date', 'parsely-pub-date', 'sailthru.date',
            'article.published', 'citation_publication_date', 'last-modified',
        ] as $name) {
            $date = PageDate::find($this->document->metadata[$name] ?? '');
            if (null !== $date) {
                return $date;
            }
        }
        foreach ($this->tree->elements('time') as $node) {
            $date = PageDate::find($this->tree->attribute($node, 'datetime') ?? Text::normalise($this->tree->textInside($node)));
            if (null !== $date) {
                return $date;
            }
        }

        return $this->seenDate($container);
    }

    private function seenDate(string $container): ?string
    {
        $near = null;
        foreach ($this->document->passages as $n => $passage) {
            $short = mb_strlen($passage->text) < 120;
            if ($short && 1 === preg_match(self::DATED, $passage->path)) {
                $date = PageDate::find($passage->text, $this->document->language);
                if (null !== $date) {
                    return $date;
                }
            }
            // A short line by the beginning of the text, mostly a date.
            if ($short && null === $near && (str_starts_with($passage->path, $container) || $n < 25)
                && 1 !== preg_match('/copyright|©/i', $passage->text)) {
                $date = PageDate::find($passage->text, $this->document->language);
                $near = null !== $date
                    && (PageDate::share($passage->text) > 0.35
                        || 1 === preg_match(
                            '/^(?:published|posted|updated|veröffentlicht|stand|publié|publicado|δημοσ)/iu', $passage->text,
                        ))
                    ? $date
                    : null;
            }
        }

        return $near ?? $this->datelined($container);
    }

    /** The date with which a report begins, behind the place it comes from. */
    private function datelined(string $container): ?string
    {
        foreach ($this->document->passages as $passage) {
            if (PassageKind::Sentence === $passage->kind && str_starts_with($passage->path, $container) && mb_strlen($passage->text) > 60) {
                return 1 === preg_match('/^.{0,50}?\p{N}{4}[)]?\s*[–—:-]\s/u', $passage->text, $m)
                    ? PageDate::find($m[0], $this->document->language)
                    : null;
            }
        }

        return null;
    }

    public function language(): ?string
    {
        $said = $this->document->language ?? str_replace('_', '-', $this->document->metadata['og:locale'] ?? '');

        return '' !== $said ? strtolower(substr($said, 0, 2)).substr($said, 2) : Language::of($this->document->text());
    }

    /** Whether a block is headline, byline or date rather than text. */
    public function isFact(TextBlock $block, string $title): bool
    {
        if (PassageKind::Heading === $block->kind
            && (Text::key($block->text) === Text::key($title) || 1 === preg_match('/ h1[#.:][^ ]*$/', $block->path))) {
            return true;
        }
        $last = implode(' ', \array_slice(explode(' ', $block->path), -1));
        if ($block->letters() < 140 && (1 === preg_match(self::BYLINE, $last) || 1 === preg_match(self::DATED, $last))) {
            return true;
        }
        $byline = $this->byline();
        if ($block->letters() >= 110 || PassageKind::Sentence !== $block->kind) {
            return false;
        }
        if (1 === preg_match(
            '/©|\bcopyright\b|all rights reserved|alle rechte vorbehalten|tous droits réservés|todos los derechos reservados|tutti i'
                .' diritti|todos os direitos|все права защищены|με την επιφύλαξη/iu',
            $block->text,
        )) {
            return true;
        }
        if (1 === preg_match(
            '/^(?:page|seite|página|pagina|pág\.?|σελίδα|страница|strona|sida|side)\s*\d+\s*(?:of|von|de|di|sur|van|από|из|z|av|af|'
                .'\/)\s*\d+\b/iu',
            $block->text,
        )
            || 1 === preg_match('/^\d{1,2}[:.]\d{2}\s*(?:h|Uhr|a\.?m\.?|p\.?m\.?)?$/iu', $block->text)) {
            return true;
        }
        $isByline = null !== $byline && str_contains($block->text, $byline) && $block->letters() < 40 + mb_strlen($byline)
            && 1 !== preg_match('/[.!?。]$/u', $block->text);

        return $isByline || PageDate::share($block->text) > 0.5 || self::isNamedAndDated($block->text)
            || (null !== PageDate::find($block->text, $this->document->language)
                && 1 === preg_match(
                    '/^(?:published|posted|updated|last (?:updated|modified)|veröffentlicht|aktualisiert|stand|publié|mis à jour|'
                        .'publicado|actualizado|δημοσ\S*|опубликовано|更新|公開)/iu',
                    $block->text,
                ));
    }

    /** Whether a line is who wrote something, and when. */
    private static function isNamedAndDated(string $text): bool
    {
        $rest = PageDate::without($text);

        return $rest !== $text && mb_strlen($text) < 60 && 1 !== preg_match('/[.!?。！？]$/u', $text) && \count(Split::words($rest)) <= 4;
    }

    private function text(mixed $value): ?string
    {
        $text = \is_string($value) ? Text::normalise(html_entity_decode($value, \ENT_QUOTES | \ENT_HTML5, 'UTF-8')) : '';

        return '' === $text ? null : $text;
    }
}
