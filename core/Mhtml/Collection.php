<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\ReferenceMapper;

/**
 * Several pages in one MHTML file, with a first page that lists them and shows each (RFC 2557). Two captures of one address
 * have parts of the same address and other bytes, so each part is named by a Content-ID, and what a page asks for leads to
 * those of its own (section 7). What several pages share is written once; the same pages give the same bytes.
 */
final class Collection
{
    /** @var array<string, true> Content-IDs that were written */
    private array $written = [];

    /**
     * @param list<CollectedPage> $pages
     * @param string $seed what makes the file's names its own
     * @param bool $scripts whether scripts stay
     */
    private function __construct(private readonly array $pages, private readonly string $seed, private readonly bool $scripts)
    {
    }

    /**
     * @param list<CollectedPage> $pages
     *
     * @return \Generator<int, string> the file in pieces
     */
    public static function write(string $title, \DateTimeImmutable $date, string $seed, array $pages, bool $scripts = false): \Generator
    {
        $collection = new self($pages, substr(hash('sha256', $seed), 0, 16), $scripts);
        $first = 'http://'.$collection->seed.'.given-out.invalid/';

        return MhtmlWriter::write($title, $date, $first, $seed, $collection->parts($first, $title));
    }

    /**
     * @return \Generator<int, Part>
     */
    private function parts(string $first, string $title): \Generator
    {
        yield new Part($first, 'text/html; charset=utf-8', fn (): array => [$this->list($title)]);
        foreach ($this->pages as $number => $page) {
            $ids = [];
            foreach ($page->parts as $n => $part) {
                $ids[self::exact($part->url)] ??= $this->id($number, $n, $part);
            }
            foreach ($page->parts as $n => $part) {
                $id = $this->id($number, $n, $part);
                if (!isset($this->written[$id])) {
                    $this->written[$id] = true;
                    yield new Part($part->url, $part->contentType, fn (): iterable => $this->body($part, $ids), $id);
                }
            }
        }
    }

    private function id(int $page, int $n, CollectedPart $part): string
    {
        $name = $part->isDocument() || $part->isStyle() ? \sprintf('page-%d-%d', $page + 1, $n) : substr($part->sha256, 0, 24);

        return $name.'@'.$this->seed.'.given-out.invalid';
    }

    /**
     * @param array<string, string> $ids of the page's parts, by their address
     *
     * @return iterable<string>
     */
    private function body(CollectedPart $part, array $ids): iterable
    {
        $url = Url::tryParse($part->url);
        if (null === $url || (!$part->isDocument() && !$part->isStyle())) {
            return ($part->body)();
        }
        $text = '';
        foreach (($part->body)() as $piece) {
            $text .= $piece;
        }
        $base = $part->isDocument() ? Url::tryParse(Requisites::of($text)[0] ?? '', $url) ?? $url : $url;
        $mapper = new ReferenceMapper(new PartsOfPage($ids), $base, true);

        return [$part->isDocument() ? (new HtmlRewriter($mapper, '', $this->scripts))->rewrite($text) : (new CssRewriter($mapper))
            ->rewrite($text)];
    }

    private function list(string $title): string
    {
        $list = '';
        foreach ($this->pages as $number => $page) {
            $root = $page->parts[0] ?? null;
            $list .= '<li><details'.(1 === \count($this->pages) ? ' open' : '').'><summary><b>'
                .self::text('' === $page->title ? $page->url : $page->title).'</b> <span>'.self::text($page->url).'</span> <time datetime="'
                .$page->at->format('Y-m-d\TH:i:s\Z').'">'
                .$page->at->format('Y-m-d H:i:s').' UTC</time></summary>'
                    .(null === $root ? '' : '<iframe src="cid:'.$this->id($number, 0, $root).'" title="'.self::text($page->title)
                        .'"></iframe>')
                    .'</details></li>';
        }

        return '<!doctype html><html lang="en"><meta charset="utf-8"><title>'.self::text($title)
            .'</title><style>body{font:16px/1.4 system-ui,sans-serif;margin:1.5rem}li{margin:.4rem'
                .' 0}summary{cursor:pointer}span,time{display:block;color:#555;overflow-wrap:anywhere}'
                    .'iframe{width:100%;height:85vh;border:1px solid #999;margin-top:.4rem}</style>'
            .'<h1>'.self::text($title).'</h1><ol>'.$list.'</ol></html>';
    }

    /** An address as references are compared: without its fragment. */
    public static function exact(string $url): string
    {
        $parsed = Url::tryParse($url);

        return null === $parsed ? $url : (string) $parsed->withoutFragment();
    }

    private static function text(string $text): string
    {
        return htmlspecialchars($text, \ENT_QUOTES | \ENT_SUBSTITUTE, 'UTF-8');
    }
}
