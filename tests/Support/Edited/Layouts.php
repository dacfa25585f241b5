<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/** Fourteen ways in which a page may be laid out. */
final class Layouts
{
    public const TUNED = ['article', 'news', 'plain', 'oldTables', 'cards', 'terms', 'sloppy', 'xhtml', 'forum'];
    /** Not looked at while the comparison was made. */
    public const ASIDE = ['wiki', 'deep', 'lines', 'minutes', 'gallery'];

    public static function html(string $layout, Content $c): string
    {
        $e = static fn (string $text): string => htmlspecialchars($text, \ENT_QUOTES | \ENT_SUBSTITUTE);
        $p = array_map(static fn (array $sentences): string => implode($c->space, array_map($e, $sentences)), $c->paragraphs);
        $h = array_map($e, $c->headings);
        $items = array_map($e, $c->items);
        $links = array_map(static fn (array $link): string => \sprintf('<a href="%s">%s</a>', $e($link[1]), $e($link[0])), $c->links);
        $img = array_map(static fn (string $src): string => '<img src="'.$e($src).'" alt="">', $c->pictures);
        $table = static fn (string $more = ''): string => '<table'.$more.'>'
            .implode(
                '',
                array_map(
                    static fn (array $row, int $n): string => '<tr>'
                        .implode(
                            '',
                            array_map(
                                static fn (string $cell): string => 0 === $n ? '<th>'.$e($cell).'</th>' : '<td>'.$e($cell).'</td>', $row,
                            ),
                        )
                        .'</tr>',
                    $c->rows,
                    array_keys($c->rows),
                ),
            )
            .'</table>';
        $title = '<title>'.$e($c->title).'</title>';
        $par = static fn (string $open, string $close, int $from, int $to): string => implode(
            "\n", array_map(static fn (string $one): string => $open.$one.$close, \array_slice($p, $from, max(0, $to - $from))),
        );
        $many = \count($p);

        return match ($layout) {
            'article' => "<!doctype html><html><head>{$title}</head><body><article><h1>{$h[0]}</h1>{$img[0]}"
                .$par('<p>', '</p>', 0, $c->split)."<h2>{$h[1]}</h2>{$img[1]}".$par('<p>', '</p>', $c->split, $many).'<ul><li>'
                .implode('</li><li>', $items).'</li></ul>'.$table().$img[2].'<p>'.implode(' · ', $links).'</p></article></body></html>',
            'news' => "<!doctype html><html><head>{$title}<style>p{}</style><script>var a='<p>x</p>';</script></head><body><header><nav>"
                ."<ul><li>Home</li><li>Sea</li></ul></nav></header><main><h1>{$h[0]}</h1><figure>{$img[0]}</figure>"
                .$par('<p class="body">', '</p>', 0, $c->split)."<aside><h3>{$h[1]}</h3><ul><li>".implode('</li><li>', $items)
                ."</li></ul></aside>{$img[1]}".$par('<p>', '</p>', $c->split, $many).$table(' class="times"').$img[2].'<nav>'
                .implode('', array_map(static fn (string $l): string => "<div>{$l}</div>", $links))
                .'</nav></main><footer><p>Saltmarch Lantern</p></footer></body></html>',
            'plain' => "<html><head>{$title}</head><body><h1>{$h[0]}</h1>{$img[0]}".$par('', '<br><br>', 0, $c->split)
                ."<h2>{$h[1]}</h2>{$img[1]}".$par('', '<br><br>', $c->split, $many).'<ol><li>'.implode('<li>', $items).'</ol>'
                .$table(' border=1').$img[2].implode(' | ', $links).'</body></html>',
            'oldTables' => "<html><head>{$title}</head><body bgcolor=white><table width=100%><tr><td width=150 valign=top><font size=2>"
                .implode('<br>', $links)."</font></td><td><h1>{$h[0]}</h1>{$img[0]}"
                .$par('<p><font face=serif>', '</font></p>', 0, $c->split)."<h2>{$h[1]}</h2>{$img[1]}".$par('<p>', '</p>', $c->split, $many)
                .'<ul><li>'.implode('<li>', $items).'</ul>'.$table().$img[2].'</td></tr></table></body></html>',
            'cards' => "<!doctype html>{$title}<body><div class=wrap><h1>{$h[0]}</h1>{$img[0]}"
                .$par('<div class=card><div class=inner>', '</div></div>', 0, $c->split)."<h2>{$h[1]}</h2>{$img[1]}"
                .$par('<div class=card>', '</div>', $c->split, $many).'<ul class=grid>'
                .implode('', array_map(static fn (string $i): string => "<li><div><span>{$i}</span></div></li>", $items)).'</ul>'.$table()
                .$img[2].'<div>'.implode(' ', $links).'</div></div>',
            'terms' => "<!doctype html>{$title}<h1>{$h[0]}</h1>{$img[0]}<dl>"
                .implode(
                    '',
                    array_map(
                        static fn (string $one, int $n): string => '<dt>Point '.(7 * $n + 3)."</dt><dd>{$one}</dd>",
                        \array_slice($p, 0, 1),
                        [0],
                    ),
                )
                .'</dl>'.$par('<blockquote><p>', '</p></blockquote>', 1, $c->split)."<h2>{$h[1]}</h2>{$img[1]}"
                .$par('<p>', '</p>', $c->split, $many).'<ul><li>'.implode('<li>', $items).'</ul>'.$table().$img[2].implode(' ', $links),
            'sloppy' => "<TITLE>{$e($c->title)}</TITLE><H1>{$h[0]}</H2>{$img[0]}".$par('<P>', '', 0, $c->split)."<H2>{$h[1]}</h2>{$img[1]}"
                .$par('<p><b>', '</p>', $c->split, $many).'</b><UL><LI>'.implode('<LI>', $items).'</UL><TABLE>'
                .implode(
                    '',
                    array_map(
                        static fn (array $row, int $n): string => '<TR>'
                            .implode('', array_map(static fn (string $cell): string => (0 === $n ? '<TH>' : '<TD>').$e($cell), $row)),
                        $c->rows,
                        array_keys($c->rows),
                    ),
                )
                .'</TABLE>'.$img[2].'<i>'.implode(' </i><i>', $links),
            'xhtml' => '<?xml version="1.0" encoding="utf-8"?><!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Strict//EN"'
                .' "http://www.w3.org/TR/xhtml1/DTD/xhtml1-strict.dtd"><html xmlns="http://www.w3.org/1999/xhtml"><head>'
                .$title."</head><body><h1>{$h[0]}</h1><p>{$img[0]}</p>".$par('<p>', '</p>', 0, $c->split)."<h2>{$h[1]}</h2><p>{$img[1]}</p>"
                .$par('<p>', '</p>', $c->split, $many).'<ul><li>'.implode('</li><li>', $items).'</li></ul>'.$table().'<div>'.$img[2]
                .'</div><p>'.implode('<br />', $links).'</p></body></html>',
            'forum' => "<!doctype html>{$title}<h1>{$h[0]}</h1>{$img[0]}<div id=posts>"
                .implode(
                    '',
                    array_map(
                        static fn (string $one, int $n): string => "<article class=post id=p{$n}><header>Post ".(100 + 3 * $n)
                            ."</header><div class=text>{$one}</div></article>",
                        $p,
                        array_keys($p),
                    ),
                )
                ."</div><h2>{$h[1]}</h2>{$img[1]}<ul><li>".implode('</li><li>', $items).'</li></ul>'.$table().$img[2].'<footer>'
                .implode(' – ', $links).'</footer>',
            'wiki' => "<!doctype html>{$title}<div id=content><h1>{$h[0]}</h1><div class=thumb>{$img[0]}</div>"
                .$par('<p>', '</p>', 0, $c->split)."<h2><span>{$h[1]}</span></h2>{$img[1]}".$par('<p>', '</p>', $c->split, $many).'<ul>'
                .implode('', array_map(static fn (string $i): string => "<li><b>{$i}</b></li>", $items)).'</ul>'.$table(' class=wikitable')
                .$img[2].'<div class=toc>'.implode(' ', $links).'</div></div>',
            'deep' => "<!doctype html>{$title}".str_repeat('<div><section>', 30)."<h1>{$h[0]}</h1>{$img[0]}"
                .$par('<div><div><p><span>', '</span></p></div></div>', 0, $c->split)."<h2>{$h[1]}</h2>{$img[1]}"
                .$par('<section><p>', '</p></section>', $c->split, $many).'<ul><li><p>'.implode('</p></li><li><p>', $items).'</p></li></ul>'
                .$table().$img[2].implode('', array_map(static fn (string $l): string => "<p>{$l}</p>", $links))
                .str_repeat('</section></div>', 30),
            'lines' => "<html>{$title}<body><center><h1>{$h[0]}</h1></center>{$img[0]}".$par('<p>', '', 0, $c->split)
                ."<h2>{$h[1]}</h2>{$img[1]}".$par('<p align=justify>', '', $c->split, $many).'<dir><li>'.implode('<li>', $items).'</dir>'
                .$table(' cellpadding=2').$img[2].'<hr>'.implode(' ', $links),
            'minutes' => "<!doctype html><html lang=en>{$title}<body><main><header><h1>{$h[0]}</h1>{$img[0]}</header><section>"
                .$par('<details open><summary></summary><p>', '</p></details>', 0, $c->split)."</section><section><h2>{$h[1]}</h2>{$img[1]}"
                .$par('<p>', '</p>', $c->split, $many).'</section><ol type=a><li>'.implode('</li><li>', $items).'</li></ol><div class=t>'
                .str_replace(
                    ['<table>', '</table>'],
                    ['<table><thead>', '</tbody></table>'],
                    (string) preg_replace('~</tr>~', '</tr></thead><tbody>', $table(), 1),
                )
                .'</div>'.$img[2].'<address>'.implode(', ', $links).'</address></main></body></html>',
            'gallery' => "<!doctype html>{$title}<body><h1>{$h[0]}</h1><picture><source srcset=x.webp>{$img[0]}</picture>"
                .$par('<div style="display:flex"><p>', '</p></div>', 0, $c->split)."<h2><a name=x></a>{$h[1]}</h2><div>{$img[1]}</div>"
                .$par('<p lang=xx>', '</p>', $c->split, $many).'<ul role=list>'
                .implode('', array_map(static fn (string $i): string => "<li class=i><span>{$i}</span></li>", $items)).'</ul>'
                .$table(' summary=x').$img[2].'<menu>'.implode('', array_map(static fn (string $l): string => "<li>{$l}</li>", $links))
                .'</menu>',
            default => throw new \InvalidArgumentException($layout),
        };
    }
}
