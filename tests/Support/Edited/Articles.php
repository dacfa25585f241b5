<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/**
 * Articles among all that stands around them, in a dozen kinds of pages, and pages that are none; each with what a reader would
 * say that it is.
 */
final class Articles
{
    public const TUNED = ['news', 'notice', 'blog', 'oldTables', 'divs', 'forum', 'breaks', 'semantic'];
    public const ASIDE = ['scripted', 'letter', 'minutes', 'long'];
    public const NONE_TUNED = ['front', 'results', 'login', 'timetable', 'products', 'error'];
    public const NONE_ASIDE = ['tags', 'contact', 'gallery'];

    private function __construct(
        public readonly string $html,
        public readonly bool $isArticle,
        public readonly string $title = '',
        public readonly string $text = '',
        public readonly ?string $byline = null,
        public readonly ?string $published = null,
    ) {
    }

    public static function page(string $kind, string $language, int $seed): self
    {
        $chance = new Chance($seed);
        $s = new Sentences($chance, $language);
        $space = 'ja' === $language ? '' : ' ';
        $paragraphs = array_map(
            static fn (): string => implode($space, array_map(static fn (): string => $s->one(), range(1, $chance->between(2, 4)))),
            range(1, $chance->between(5, 9)),
        );
        $title = $s->name();
        $items = array_map(static fn (): string => $s->one(), range(1, 3));
        $teaser = static fn (): string => '<li><a href="/x/'.$chance->between(1, 9_999).'">'.rtrim($s->one(), '.').'</a></li>';
        $teasers = static fn (int $n): string => implode('', array_map($teaser, range(1, $n)));
        $author = $chance->of(['Edda Marlow', 'Tomas Okoye', 'Ilse Varga']);
        $p = static fn (string $open = '<p>', string $close = '</p>'): string => implode(
            "\n", array_map(static fn (string $one): string => $open.$one.$close, $paragraphs),
        );
        $whole = implode("\n\n", $paragraphs);
        $nav = '<ul><li><a href="/">Home</a></li><li><a href="/sea">Sea</a></li><li><a href="/land">Land</a></li><li><a'
            .' href="/jobs">Jobs</a></li></ul>';
        $doc = static fn (string $head, string $body): string => '<!doctype html><html lang="'.$language.'"><head><meta charset="utf-8">'
            .$head.'</head><body>'.$body.'</body></html>';
        $comments = '<p>'.$s->one().'</p><p>'.$s->one().'</p>';

        return match ($kind) {
            'news' => new self($doc("<title>{$title} | Saltmarch Lantern</title><meta property=\"og:site_name\" content=\"Saltmarch"
                .' Lantern"><script type="application/ld+json">'
                .json_encode([
                    '@type' => 'NewsArticle', 'headline' => $title, 'datePublished' => '2024-11-12T08:00:00Z',
                    'author' => ['@type' => 'Person', 'name' => $author],
                ])
                .'</script>',
                "<header class=top><nav>{$nav}</nav></header><div class=page><main><article><h1>{$title}</h1><p class=byline>By"
                    ." {$author}</p><time datetime=2024-11-12>12 November 2024</time><figure><img src=a.jpg><figcaption>A ship,"
                        .' photographed by nobody in particular on a quiet day.</figcaption></figure>'
                    .$p()
                    ."<aside class=related><h3>More</h3><ul>{$teasers(5)}</ul></aside></article></main><aside><h2>Most read</h2>"
                        ."<ul>{$teasers(6)}</ul></aside></div><section id=comments><h2>Comments</h2>{$comments}</section><footer><p>©"
                            .' 2024 Saltmarch Lantern. All rights reserved by the owners of this fine paper.</p></footer>'),
                true, $title, $whole, $author, '2024-11-12'),
            'notice' => new self(
                $doc(
                    "<title>{$title} – Saltmarch Ferries</title>",
                    "<div id=nav>{$nav}</div><div id=content><h1>{$title}</h1><p>Published 11 November 2024</p>".$p().'<ul><li>'
                        .implode('</li><li>', $items).'</li></ul></div><div id=foot>Saltmarch Ferries Ltd, 4 Quay Street</div>',
                ),
                true,
                $title,
                $whole."\n\n".implode("\n\n", $items),
                null,
                '2024-11-11',
            ),
            'blog' => new self(
                $doc(
                    "<title>Tidewatch: {$title}</title><meta name=author content=\"{$author}\">",
                    '<div class=header><a href=/>Tidewatch</a></div><div class=posts><div class=post><h2 class=post-title><a'
                        ." href=/self>{$title}</a></h2><div class=post-meta>Posted by {$author} on 3 March 2025</div><div class=post-body>"
                        .$p().'<blockquote><p>'.$items[0]
                        .'</p></blockquote></div><div class=post-footer>Tags: <a href=/t/1>sea</a> <a'
                            .' href=/t/2>seal</a></div></div></div><div class=sidebar><h3>Archive</h3>'
                        ."<ul>{$teasers(4)}</ul></div>",
                ),
                true,
                $title,
                $whole."\n\n".$items[0],
                $author,
                '2025-03-03',
            ),
            'oldTables' => new self(
                "<html><head><title>{$title}</title><meta http-equiv=Content-Type content=\"text/html; charset=utf-8\"></head><body>"
                    ."<table width=100%><tr><td colspan=2><h1>{$title}</h1></td></tr><tr><td width=120 valign=top><a href=/a>Home</a>"
                        .'<br><a href=/b>Ships</a><br><a href=/c>Links</a></td><td>'
                    .$p('<p><font size=2>', '</font>')
                    .'</td></tr><tr><td colspan=2 align=center><font size=1>Mail the webmaster</font></td></tr></table></body></html>',
                true,
                $title,
                $whole,
            ),
            'divs' => new self(
                $doc(
                    "<title>{$title} :: Board</title>",
                    "<div><div><div>{$nav}</div></div><div><div><div><h1>{$title}</h1></div><div>".$p('<div><div>', '</div></div>')
                        ."</div></div><div><ul>{$teasers(5)}</ul></div></div></div>",
                ),
                true,
                $title,
                $whole,
            ),
            'forum' => new self(
                $doc(
                    "<title>{$title} - Tidewatch</title>",
                    "<div class=nav>{$nav}</div><h1>{$title}</h1><div class=thread>"
                        .implode(
                            '',
                            array_map(
                                static fn (string $one): string =>
                                    '<div class=message><div class=who><a href=/u/1>mabyn</a><br>12 posts</div><div'
                                        ." class=said>{$one}</div></div>",
                                $paragraphs,
                            ),
                        )
                        .'</div><form><textarea></textarea><input type=submit value=Reply></form>',
                ),
                true,
                $title,
                $whole,
            ),
            'breaks' => new self(
                $doc(
                    "<title>{$title}</title>",
                    "<h1>{$title}</h1>{$nav}<div class=txt>".implode('<br><br>', $paragraphs)
                        .'</div><div class=footer>Imprint | Contact</div>',
                ),
                true,
                $title,
                $whole,
            ),
            'semantic' => new self(
                $doc(
                    "<title>Lantern - {$title}</title><meta property=article:published_time content=2025-02-01T10:00:00+01:00>",
                    "<header><h1>Lantern</h1></header><main><article><header><h2>{$title}</h2><address><a rel=author"
                        ." href=/a>{$author}</a></address></header>"
                        .$p()
                        .'<footer><p>Share this with <a href=/s>everybody</a></p></footer></article><section class=more-stories><h2>More'
                            .' stories</h2><article><h3><a href=/1>'
                        .$s->one().'</a></h3><p>'.$s->one().'</p></article><article><h3><a href=/2>'.$s->one().'</a></h3><p>'.$s->one()
                        .'</p></article></section></main>',
                ),
                true,
                $title,
                $whole,
                $author,
                '2025-02-01',
            ),
            'scripted' => new self(
                $doc(
                    "<title>{$title} | App</title>",
                    '<div id=root><div class="css-1x">'.str_repeat('<div class="css-ab">', 14)
                        ."<h1 class=css-h>{$title}</h1><div class=css-m><span>{$author}</span><span>·</span><span>Nov 12, 2024</span></div>"
                        .$p('<div class="css-p"><span data-text=true>', '</span></div>').str_repeat('</div>', 14)
                        ."<div class=css-r><ul>{$teasers(7)}</ul></div></div></div>",
                ),
                true,
                $title,
                $whole,
                null,
                '2024-11-12',
            ),
            'letter' => new self(
                $doc(
                    "<title>{$title}</title>",
                    "<p align=right>Saltmarch, 9 January 2025</p><h1>{$title}</h1>".$p('<p align=justify>').'<p><i>'.$author.'</i></p>',
                ),
                true,
                $title,
                $whole,
                null,
                '2025-01-09',
            ),
            'minutes' => new self(
                $doc(
                    "<title>{$title} · Harbour Board</title>",
                    "<nav>{$nav}</nav><main><h1>{$title}</h1><dl>"
                        .implode(
                            '',
                            array_map(
                                static fn (string $one, int $n): string => '<dt>Item '.($n + 1)."</dt><dd>{$one}</dd>",
                                $paragraphs,
                                array_keys($paragraphs),
                            ),
                        )
                        .'</dl></main><footer>Harbour Board</footer>',
                ),
                true,
                $title,
                implode(
                    "\n\n",
                    array_map(
                        static fn (string $one, int $n): string => 'Item '.($n + 1)."\n\n".$one, $paragraphs, array_keys($paragraphs),
                    ),
                ),
            ),
            'long' => new self(
                $doc(
                    "<title>{$title} | Lantern</title>",
                    "<div class=masthead>{$nav}</div><div class=story><h1>{$title}</h1>"
                        .implode(
                            '',
                            array_map(
                                static fn (string $one, int $n): string =>
                                    ($n > 0 && 0 === $n % 3 ? '<div class="ad-slot"><p>'.$s->one().'</p></div>' : '')
                                    ."<p>{$one}</p>",
                                $paragraphs,
                                array_keys($paragraphs),
                            ),
                        )
                        .'</div><div class="recommended"><p>'.$s->one()."</p><ul>{$teasers(6)}</ul></div>",
                ),
                true,
                $title,
                $whole,
            ),
            'front' => new self(
                $doc(
                    '<title>Saltmarch Lantern</title><meta property=og:type content=website>',
                    "<nav>{$nav}</nav><main>"
                        .implode(
                            '',
                            array_map(
                                static fn (string $one): string => '<article><h2><a href=/a>'.$one.'</a></h2><p>'.$s->one()
                                    .'</p></article>',
                                [...$items, $s->one(), $s->one(), $s->one()],
                            ),
                        )
                        .'</main>',
                ),
                false,
            ),
            'results' => new self(
                $doc('<title>Search</title>', "<form><input name=q></form><p>24 results</p><ol>{$teasers(20)}</ol>"), false,
            ),
            'login' => new self(
                $doc(
                    '<title>Sign in</title>',
                    '<h1>Sign in</h1><form><label>Name <input></label><label>Password <input type=password></label><button>Sign'
                        .' in</button></form><p><a href=/f>Forgotten?</a></p>',
                ),
                false,
            ),
            'timetable' => new self(
                $doc(
                    '<title>Timetable</title>',
                    "<nav>{$nav}</nav><h1>Timetable</h1><table>"
                        .implode('', array_map(static fn (int $n): string => "<tr><td>Pier {$n}<td>0{$n}:10<td>1{$n}:20</tr>", range(1, 9)))
                        .'</table>',
                ),
                false,
            ),
            'products' => new self(
                $doc(
                    '<title>Shop</title>',
                    "<nav>{$nav}</nav><ul class=grid>"
                        .implode(
                            '',
                            array_map(
                                static fn (int $n): string =>
                                    "<li><a href=/p/{$n}><img src=p.png><h3>Seal {$n}</h3></a><p>{$n}0 crowns</p><button>Buy</button></li>",
                                range(1, 12),
                            ),
                        )
                        .'</ul>',
                ),
                false,
            ),
            'error' => new self(
                $doc(
                    '<title>Not found</title>',
                    "<nav>{$nav}</nav><h1>404</h1><p>The page was not found.</p><p><a href=/>Back to the front page</a></p>",
                ),
                false,
            ),
            'tags' => new self(
                $doc(
                    '<title>Tag: sea</title>',
                    '<h1>Tag: sea</h1>'
                        .implode(
                            '',
                            array_map(
                                static fn (): string => '<div class=item><h3><a href=/a>'.$s->one().'</a></h3><a href=/a>more</a></div>',
                                range(1, 10),
                            ),
                        ),
                ),
                false,
            ),
            'contact' => new self(
                $doc(
                    '<title>Contact</title>',
                    "<nav>{$nav}</nav><h1>Contact</h1><p>4 Quay Street<br>Saltmarch<p>Telephone 555 0100<p><a href=mailto:a@b.test>"
                        .'a@b.test</a>',
                ),
                false,
            ),
            'gallery' => new self(
                $doc(
                    '<title>Pictures</title>',
                    '<h1>Pictures</h1>'
                        .implode(
                            '',
                            array_map(
                                static fn (int $n): string => "<figure><img src={$n}.jpg><figcaption>Ship {$n}</figcaption></figure>",
                                range(1, 12),
                            ),
                        ),
                ),
                false,
            ),
            default => throw new \InvalidArgumentException($kind),
        };
    }

    /** How alike two texts are, by their words or, without spaces, letters: F1 of the bags. */
    public static function likeness(string $wanted, string $got): float
    {
        $bag = static function (string $text): array {
            preg_match_all(
                '/[\p{Han}\p{Hiragana}\p{Katakana}]|(?:(?![\p{Han}\p{Hiragana}\p{Katakana}])[\p{L}\p{M}\p{N}])+/u',
                mb_strtolower($text),
                $m,
            );

            return array_count_values($m[0]);
        };
        [$a, $b] = [$bag($wanted), $bag($got)];
        $common = 0;
        foreach ($a as $word => $times) {
            $common += min($times, $b[$word] ?? 0);
        }
        $all = array_sum($a) + array_sum($b);

        return 0 === $all ? 1.0 : 2 * $common / $all;
    }
}
