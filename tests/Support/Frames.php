<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** Ten ways in which sites build what stands around a page's own content. */
final class Frames
{
    public const ALL = ['bare', 'elements', 'boxes', 'tables', 'cards', 'banner', 'scripts', 'forms', 'small-print', 'portal'];

    /** @param int $n even: the title says the heading of the body, too */
    public static function around(string $frame, string $body, int $n = 0): string
    {
        $title = 1 === preg_match('~<h\d>(.*?)</h\d>~', $body, $m) && 0 === $n % 2 ? strip_tags($m[1]).' | Skerry House' : 'Skerry House';
        $menu = ['News', 'Tides', 'Boats', 'Jobs', 'Pictures', 'The house', 'Sign in', 'Subscribe'];
        $links = '<ul><li><a href=/x>'.implode('</a><li><a href=/x>', $menu).'</a></ul>';
        $cards = '<h3>Read also</h3>'
            .implode(
                '',
                array_map(
                    static fn (int $k): string =>
                        "<div class=card><a href=/s/{$k}>Story {$k} of the northern coast</a><p>What was seen at pier {$k}, who told of"
                            .' it, and what the board says to that.</p></div>',
                    range(1, 8),
                ),
            );
        $foot = 'Skerry House, Rope Walk 4. Open on weekdays. All rights reserved. Privacy. Cookies. Contact us.';
        $head = '<!doctype html><html lang=en><head><meta charset=utf-8><title>'.$title.'</title></head>';

        return $head.match ($frame) {
            'bare' => "<body>{$body}</body></html>",
            'elements' => "<body><header><a href=/>Skerry House</a><nav>{$links}</nav></header><main>{$body}</main><aside><h4>Most"
                ." read</h4>{$links}</aside><footer>{$foot}</footer></body></html>",
            'boxes' => "<body><div class=top>{$links}</div><div class=mid><div class=left>{$links}</div><div class=content>{$body}</div>"
                ."</div><div class=bottom><p>{$foot}</p></div></body></html>",
            'tables' => '<body><table width=760><tr><td colspan=2><a href=/>Skerry House</a> | <a href=/n>News</a> | <a href=/t>'
                .'Tides</a></td></tr><tr><td width=140><font size=1><a href=/1>Boats</a><br><a href=/2>Jobs</a><br><a href=/3>Guests</a>'
                    ."</font></td><td>{$body}</td></tr><tr><td colspan=2><font size=1>{$foot}</font></td></tr></table></body></html>",
            'cards' => "<body><nav>{$links}</nav><main>{$body}</main><section>{$cards}</section><footer>{$foot}</footer></body></html>",
            'banner' => '<body><div id=cmp><p>We and our partners use cookies to measure how our pages are read.</p><button>Accept'
                ." all</button><button>Refuse</button></div><nav>{$links}</nav><div>{$body}</div></body></html>",
            'scripts' => '<body><script>var state={"error":"not found","user":null}</script><div id=root><div class=a><div'
                ." class=b><svg></svg><button>Menu</button></div></div><div class=c><div class=d>{$body}</div></div></div><noscript>Some"
                    .' parts need scripts.</noscript></body></html>',
            'forms' => '<body><form class=login><label>User <input name=u></label><label>Password <input type=password name=p></label>'
                ."<button>Log in</button></form><nav>{$links}</nav><main>{$body}</main><form class=letters><p>Our letter, once a"
                    .' month</p><input type=email><button>Send me the letter</button></form></body></html>',
            'small-print' => "<body><div>{$links}</div><div>{$body}</div><div class=print><p>"
                .str_repeat('Skerry House keeps what was written about the northern Sound and shows it to whoever asks. ', 8)
                ."</p><p>{$foot}</p></div></body></html>",
            'portal' => "<body><div class=bar>{$links}</div><div class=col>{$body}</div><div class=col><h2>Weather</h2><p>Wind from the"
                .' south-west, four.</p><h2>Tides</h2><p>High water at 06:12 and 18:40.</p><h2>Word of the day</h2><p>Marram: a grass'
                    .' that holds dunes.</p></div></body></html>',
            default => throw new \LogicException($frame),
        };
    }
}
