<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Site\Art;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * Pages each of which makes a copy miss something, or look as if it did: what must be in the file, what is told as missing, and
 * whether the capture is whole.
 *
 * @phpstan-type Page array{page: string, verdict?: string, troubles?: list<string>, gaps?: array<string, string>, kept?: list<string>,
 * text?: list<string>, plain?: string, seconds?: int, bytes?: int, https?: bool}
 */
final class TrapPages implements Site
{
    public const HOST = 'pages.test';
    private const CDN = 'http://cdn.pages.test';
    /** What is in the file of a browser, and cannot be found without one: scripts ask for it. */
    private const ASKED_BY_SCRIPTS = [
        'tabs' => ['/i/second-tab.png'],
        'opened-by-script' => ['/i/on-toggle.png'],
        'shadow' => ['/i/shadow.png'],
        'fetched-text' => ['/data?q=1'],
        'posted-text' => ['/echo'],
        'after-a-while' => ['/data?late'],
        'after-three-seconds' => ['/i/timer.png'],
        'the-third-firing' => ['/i/third.png'],
        'worker' => ['/worker.js', '/data?worker'],
        'modules' => ['/m/a.js', '/m/b.js'],
        'picture-made-by-a-script' => ['/i/blob.png'],
        'asks-for-ever' => ['/data?tick'],
        'grows-three-times' => ['/i/batch1.png', '/i/batch2.png', '/i/batch3.png'],
        'service-worker' => ['https://pages.test/sw.js', 'https://pages.test/i/precached.png'],
        'shared-worker' => ['https://pages.test/shared.js', 'https://pages.test/data?shared'],
        'another-address-in-the-bar' => ['/i/pushed.png'],
        'scrolls-inside' => ['/i/inside.png'],
        'constructed-style' => ['/i/built.png'],
        'fallback' => ['/i/second.png'],
        'socket-that-answers' => ['ws://pages.test/asked'],
        'socket' => ['ws://pages.test/live'],
        'socket-in-a-worker' => ['ws://pages.test/closes'],
        'socket-over-tls' => ['wss://pages.test/closes'],
        'socket-that-ticks' => ['ws://pages.test/ticks'],
    ];
    private const LONG = '<p>The ferry left the harbour at six in the morning with the tide and a light wind from the west, and nobody'
        .' on board thought that the stern door would give them any trouble before noon. </p><p>Its seal had been looked at in spring,'
        .' the book says so, and the two names below that line are those of people who still work there today and remember nothing'
        .' of it. </p>';

    /**
     * @return array<string, Page> by name; it stands at the path of that name
     */
    public static function pages(): array
    {
        $img = static fn (string $name, string $more = ''): string => '<img src="/i/'.$name.'.png" width="200" height="100" '.$more.'>';
        $far = '<div style="height:4000px"></div>';

        return [
            'simple' => ['page' => self::LONG.$img('simple'), 'kept' => ['/i/simple.png']],
            'lazy' => [
                'page' => self::LONG.$far.$img('lazy', 'loading="lazy"').$far.$img('lazy2', 'loading="lazy"'),
                'kept' => ['/i/lazy.png', '/i/lazy2.png'],
            ],
            'on-sight' => [
                'page' => self::LONG.$far
                    .'<img data-src="/i/sight.png" width="200" height="100"><script>new IntersectionObserver((all, o) => all.forEach(e'
                        .' => { if (e.isIntersecting) { e.target.src = e.target.dataset.src; o.disconnect(); }'
                            .' })).observe(document.images[0])</script>',
                'kept' => ['/i/sight.png'],
            ],
            'very-long' => [
                'page' => '<style>p{height:600px;margin:0}header{position:fixed;top:0;background:#fd8}</style><header>Board</header>'
                    .'<script>for (let n = 0; n < 400; n++) document.write("<p>Minutes of meeting " + n)</script>'
                    .'<img data-src="/i/far-down.png" width="200" height="100"><script>new IntersectionObserver((all, o) =>'
                        .' all.forEach(e => {'
                    .' if (e.isIntersecting) e.target.src = e.target.dataset.src; })).observe(document.querySelector("img"))</script>',
                'kept' => ['/i/far-down.png'], 'text' => ['Minutes of meeting 399'], 'plain' => 'whole',
            ],
            'in-a-closed-tab' => [
                'page' => self::LONG.'<div hidden><img data-src="/i/tab.png"><img src="/i/tab2.png" loading="lazy"></div>',
                'kept' => ['/i/tab.png', '/i/tab2.png'],
            ],
            'tabs' => [
                'page' => self::LONG
                    .'<div role="tablist"><button role="tab" aria-selected="true" aria-controls="p1" id="t1">One</button><button'
                        .' role="tab" aria-selected="false" aria-controls="p2" id="t2">Two</button><a role="tab" aria-controls="p2"'
                            .' href="/said">Away</a></div><div id="p1">The first panel.</div><div id="p2" hidden></div><script>const'
                                .' show = n => { for (const k of [1, 2]) { document.getElementById("p" + k).hidden = k !== n;'
                                    .' document.getElementById("t" + k).setAttribute("aria-selected", k === n); } if (n === 2 &&'
                                        .' !p2.innerHTML) p2.innerHTML = "<p>The second panel.</p><img src=/i/second-tab.png>"; };'
                                            .' t1.onclick = () => show(1); t2.onclick = () => show(2);</script>',
                'kept' => ['/i/second-tab.png'],
                'text' => ['The first panel.'],
            ],
            'opened-by-script' => [
                'page' => self::LONG
                    .'<details id="d"><summary>More</summary><p id="in"></p></details><script>d.ontoggle = () => { if (d.open)'
                        .' document.getElementById("in").innerHTML = "<img src=/i/on-toggle.png>"; };</script>',
                'kept' => ['/i/on-toggle.png'],
            ],
            'details' => [
                'page' => self::LONG.'<details><summary>More</summary><p>Folded away.</p>'.$img('folded', 'loading="lazy"').'</details>',
                'kept' => ['/i/folded.png'],
            ],
            'candidates' => [
                'page' => self::LONG.'<img srcset="/i/one.png 1x, /i/two.png 2x" src="/i/none.png" width="200" height="100">',
                'kept' => ['/i/one.png', '/i/two.png'],
            ],
            'candidate-that-is-not-there' => [
                'page' => self::LONG.'<img srcset="/i/one.png 1x, /missing/two.png 2x" src="/i/one.png">',
                'kept' => ['/i/one.png'],
                'gaps' => [],
            ],
            'picture-element' => [
                'page' => self::LONG
                    .'<picture><source media="(min-width: 9000px)" srcset="/i/wide.png"><source srcset="/i/fit.png"><img'
                        .' src="/i/fallback.png"></picture>',
                'kept' => ['/i/wide.png', '/i/fit.png'],
            ],
            'styles' => [
                'page' => '<link rel="stylesheet" href="'.self::CDN.'/a.css">'.self::LONG,
                'kept' => [self::CDN.'/a.css', self::CDN.'/b.css', self::CDN.'/i/ground.png', self::CDN.'/font.woff2'],
            ],
            'hover' => [
                'page' => '<style>a:hover{background:url(/i/hover.png)}</style><a href="#">x</a>'.self::LONG, 'kept' => ['/i/hover.png'],
            ],
            'font-nobody-uses' => ['page' => '<style>@font-face{font-family:x;src:url(/missing/x.woff2)}</style>'.self::LONG, 'gaps' => []],
            'print-style' => ['page' => '<link rel="stylesheet" media="print" href="/missing/print.css">'.self::LONG, 'gaps' => []],
            'frame' => [
                'page' => self::LONG.'<iframe src="'.self::CDN.'/inner" width="400" height="200"></iframe>',
                'kept' => [self::CDN.'/inner', self::CDN.'/i/framed.png'],
                'text' => ['Made in the frame.'],
            ],
            'nested-frames' => [
                'page' => self::LONG.'<iframe src="/outer" width="400" height="200"></iframe>',
                'kept' => ['/outer', self::CDN.'/inner'],
                'text' => ['Made in the frame.'],
            ],
            'frame-without-address' => [
                'page' => self::LONG
                    .'<iframe width="400" height="200"></iframe><script>const d = document.querySelector("iframe").contentDocument;'
                        .' d.open(); d.write("<p>Written into it.</p>"); d.close()</script>',
                'text' => ['Written into it.'],
            ],
            'markup-as-frame' => [
                'page' => self::LONG
                    .'<iframe srcdoc="&lt;p>As markup.&lt;/p>&lt;img src=/i/srcdoc.png>" width="400" height="200"></iframe>',
                'kept' => ['/i/srcdoc.png'],
                'text' => ['As markup.'],
            ],
            'shadow' => [
                'page' => self::LONG
                    .'<x-box></x-box><script>document.querySelector("x-box").attachShadow({mode: "open"}).innerHTML = "<p>In the'
                        .' shadow.</p><img src=/i/shadow.png>"</script>',
                'kept' => ['/i/shadow.png'],
                'text' => ['In the shadow.'],
            ],
            'fetched-text' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>fetch("/data?q=1").then(r => r.json()).then(d => { t.textContent = d.text; })</script>',
                'kept' => ['/data?q=1'],
                'text' => ['Fetched text.'],
            ],
            'posted-text' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>fetch("/echo", {method: "POST", body: "what was sent"}).then(r => r.text()).then(x => {'
                        .' t.textContent = x; })</script>',
                'kept' => ['/echo'],
                'text' => ['You said: what was sent.'],
            ],
            'after-a-while' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>setTimeout(() => fetch("/data?late").then(r => r.json()).then(d => { t.textContent = d.text;'
                        .' }), 400)</script>',
                'kept' => ['/data?late'],
                'text' => ['Fetched text.'],
            ],
            'after-three-seconds' => [
                'page' => self::LONG.'<p id="t"></p><script>onload = () => setTimeout(() => { t.innerHTML = "Three seconds later."'
                    .' + "<img src=/i/timer.png width=200 height=100>"; }, 3000)</script>',
                'kept' => ['/i/timer.png'], 'text' => ['Three seconds later.'],
            ],
            'computes-for-long' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>onload = () => setTimeout(() => { const end = Date.now() + 16000; while (Date.now() < end); '
                    .'t.textContent = "At last."; }, 50)</script>',
                'text' => ['At last.'], 'seconds' => 60,
            ],
            'a-chain-of-timers' => [
                'page' => self::LONG
                    .'<div id="d"></div><script>let n = 0; const on = () => { d.insertAdjacentHTML("beforeend", "<p>Step " + ++n +'
                        .' ".</p>"); '
                    .'if (n < 8) setTimeout(on, 400); }; on()</script>',
                'text' => ['Step 8.'],
            ],
            'the-third-firing' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>let n = 0; const i = setInterval(() => { if (++n === 3) { t.innerHTML = "Third."'
                    .' + "<img src=/i/third.png width=200 height=100>"; clearInterval(i); } }, 1000)</script>',
                'kept' => ['/i/third.png'], 'text' => ['Third.'],
            ],
            'a-clock' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>let n = 0; setInterval(() => { t.textContent = "Second " + ++n; }, 500)</script>',
            ],
            'a-timer-far-off' => [
                'page' => self::LONG.'<script>setTimeout(() => document.body.append("Are you still there?"), 90000)</script>',
            ],
            'written-by-a-timer-in-a-frame' => [
                'page' => self::LONG
                    .'<iframe srcdoc="&lt;p id=t>&lt;/p>&lt;script>setTimeout(() => { t.textContent = \'In the frame, later.\'; },'
                        .' 2500)&lt;/script>"'
                    .' width="400" height="200"></iframe>',
                'text' => ['In the frame, later.'],
            ],
            'grows-by-itself-for-ever' => [
                'page' => self::LONG
                    .'<div id="d"></div><script>let n = 0; setInterval(() => d.insertAdjacentHTML("beforeend", "<p>News " + ++n +'
                        .' ".</p>"), 700)</script>',
                'verdict' => 'gaps', 'troubles' => ['cut-off'],
            ],
            'a-comment-in-an-address' => [
                'page' => '<style>p{background:url(/i/a/*b.png)}div{background:url(/i/c.png)}</style><div>x</div>'.self::LONG,
                'kept' => ['/i/a/*b.png', '/i/c.png'],
            ],
            'left-out-while-off-screen' => [
                'page' => '<style>section{content-visibility:auto;contain-intrinsic-size:auto 40px}</style>'.implode('', array_map(
                    static fn (int $n): string => '<section><h2>Chapter '.$n.'</h2>'.str_repeat(self::LONG, 5).'</section>', range(1, 24),
                )).'<p>The last words.</p>',
                'text' => ['Chapter 1', 'Chapter 12', 'Chapter 24', 'The last words.'],
            ],
            'picture-behind-a-redirect' => [
                'page' => self::LONG.'<img src="/hop-to-nothing.png">', 'gaps' => ['/missing/hop.png' => 'image status'],
            ],
            'worker' => [
                'page' => self::LONG.'<p id="t"></p><script>new Worker("/worker.js").onmessage = e => { t.textContent = e.data; }</script>',
                'kept' => ['/worker.js', '/data?worker'],
                'text' => ['From a worker: Fetched text.'],
            ],
            'modules' => [
                'page' => self::LONG.'<p id="t"></p><script type="module">import {word} from "/m/a.js"; t.textContent = word</script>',
                'kept' => ['/m/a.js', '/m/b.js'],
                'text' => ['imported'],
            ],
            'dialogs' => [
                'page' => self::LONG
                    .'<script>alert(1); confirm(2); open("/simple"); addEventListener("beforeunload", e =>'
                        .' e.preventDefault())</script><p id="t"></p><script>t.textContent = "Behind the dialogs."</script>',
                'text' => ['Behind the dialogs.'],
            ],
            'canvas' => [
                'page' => self::LONG
                    .'<canvas width="600" height="300"></canvas><script>const c = document.querySelector("canvas").getContext("2d");'
                        .' c.fillStyle = "#246"; c.fillRect(0, 0, 600, 300); c.fillStyle = "#fc0"; c.fillRect(50, 50, 300, 200)</script>',
            ],
            'made-by-chance' => ['page' => self::LONG.'<p id="t"></p><script>t.textContent = "Number " + Math.random()</script>'],
            'picture-made-by-a-script' => [
                'page' => self::LONG
                    .'<script>fetch("/i/blob.png").then(r => r.blob()).then(b => { const i = new Image(); i.src ='
                        .' URL.createObjectURL(b); document.body.append(i); })</script>',
                'kept' => ['/i/blob.png'],
            ],
            'film' => [
                'page' => self::LONG
                    .'<video src="/film.mp4" preload="none" controls width="300" height="200" poster="/i/poster.png"></video>',
                'kept' => ['/film.mp4', '/i/poster.png'],
            ],
            'sound' => [
                'page' => self::LONG
                    .'<audio controls><source src="/sound.ogg" type="audio/ogg"><source src="/sound.mp3" type="audio/mpeg"></audio>',
                'kept' => ['/sound.ogg'],
            ],
            'packed' => ['page' => self::LONG.$img('packed'), 'kept' => ['/i/packed.png']],
            'redirected' => ['page' => '', 'text' => ['The ferry left']],
            'refreshed' => ['page' => '<meta http-equiv="refresh" content="0;url=/simple">', 'text' => ['The ferry left']],
            'slow-picture' => ['page' => self::LONG.$img('slow'), 'kept' => ['/i/slow.png']],
            'asks-for-ever' => [
                'page' => self::LONG.'<script>setInterval(() => fetch("/data?tick").catch(() => 0), 250)</script>',
                'kept' => ['/data?tick'],
            ],
            'grows-three-times' => [
                'page' => self::LONG
                    .'<div id="list"></div><script>let n = 0; const add = () => { if (n++ < 3) list.insertAdjacentHTML("beforeend", "<p'
                        .' style=height:900px>Batch " + n + "</p><img src=/i/batch" + n + ".png>"); }; add(); addEventListener("scroll",'
                            .' () => { if (innerHeight + scrollY > document.documentElement.scrollHeight - 50) add(); })</script>',
                'kept' => ['/i/batch1.png', '/i/batch2.png', '/i/batch3.png'],
                'text' => ['Batch 3'],
            ],
            'icon' => [
                'page' => '<link rel="icon" href="/i/icon.png"><link rel="apple-touch-icon" href="/missing/touch.png">'.self::LONG,
                'kept' => ['/i/icon.png'],
                'gaps' => [],
            ],
            'frame-in-a-closed-tab' => [
                'page' => self::LONG.'<div hidden><iframe src="/tabbed" loading="lazy"></iframe></div>',
                'kept' => ['/tabbed', '/i/tabbed.png'],
            ],
            'preloads' => [
                'page' => '<link rel="prefetch" href="/missing/next"><link rel="preconnect" href="'.self::CDN
                    .'"><link rel="alternate" href="/missing/feed"><link rel="canonical" href="/missing/canonical">'.self::LONG,
                'gaps' => [],
            ],
            'cookie-bar' => [
                'page' => self::LONG.self::LONG
                    .'<div style="position:fixed;bottom:0;left:0;right:0;height:60px;background:#eee">We use cookies.'
                        .' <button>Fine</button></div>',
            ],
            'box-to-log-in' => [
                'page' => '<form>Log in: <input name="u"><input type="password" name="p"><button>Log in</button></form>'
                    .str_repeat(self::LONG, 3),
            ],
            'about-not-found' => ['page' => '<h1>Why so many pages are not found</h1>'.str_repeat(self::LONG, 4)],
            'short' => ['page' => '<p>Closed on Monday.</p>'],
            'one-picture' => ['page' => '<img src="/i/only.png">', 'kept' => ['/i/only.png']],
            'contact-with-a-riddle' => [
                'page' => '<h1>Write to us</h1>'.self::LONG
                    .'<form action="/send"><textarea></textarea><div class="captcha">Three and four are? <input></div></form>',
            ],

            'another-site' => [
                'page' => self::LONG.'<iframe src="https://frames.other-pages.test/inner" width="400" height="200"></iframe>',
                'https' => true,
                'kept' => ['https://frames.other-pages.test/inner', 'https://frames.other-pages.test/i/framed.png'],
                'text' => ['Made in the frame.'],
            ],
            'sandboxed-frame' => [
                'page' => self::LONG.'<iframe sandbox="allow-scripts" src="https://pages.test/inner" width="400" height="200"></iframe>',
                'https' => true,
                'kept' => ['https://pages.test/inner'],
                'text' => ['Made in the frame.'],
            ],
            'service-worker' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>navigator.serviceWorker.register("/sw.js").then(() => navigator.serviceWorker.ready).then(()'
                        .' => { t.textContent = "A worker serves."; })</script>',
                'https' => true,
                'kept' => ['https://pages.test/sw.js', 'https://pages.test/i/precached.png'],
                'text' => ['A worker serves.'],
            ],
            'shared-worker' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>new SharedWorker("/shared.js").port.onmessage = e => { t.textContent = e.data; }</script>',
                'https' => true,
                'kept' => ['https://pages.test/shared.js', 'https://pages.test/data?shared'],
                'text' => ['Shared: Fetched text.'],
            ],
            'sent-on-by-a-script' => [
                'page' => '<script>location.href = "/simple"</script>', 'text' => ['The ferry left'], 'plain' => 'failed',
            ],
            'another-address-in-the-bar' => [
                'page' => self::LONG
                    .'<script>history.pushState({}, "", "/virtual/path"); const i = new Image(200, 100); i.src = "../i/pushed.png";'
                        .' document.body.append(i)</script>',
                'kept' => ['/i/pushed.png'],
            ],
            'sends-its-form' => [
                'page' => '<form method="post" action="/said"><input name="a" value="1"></form><script>document.forms[0].submit()</script>',
                'text' => ['Your form came.'],
                'plain' => 'failed',
            ],
            'scrolls-inside' => [
                'page' => '<style>html,body{height:100%;margin:0;overflow:hidden}main{height:100vh;overflow:auto}</style><main>'.self::LONG
                    .$far
                    .'<img data-later="/i/inside.png" width="200" height="100"></main><script>new IntersectionObserver((all, o) =>'
                        .' all.forEach(e => { if (e.isIntersecting) { e.target.src = e.target.dataset.later; o.disconnect(); }'
                            .' })).observe(document.images[0])</script>',
                'kept' => ['/i/inside.png'],
            ],
            'old-server' => ['page' => self::LONG, 'text' => ['The ferry left']],
            'no-type' => ['page' => '<!doctype html><title>x</title>'.self::LONG, 'text' => ['The ferry left']],
            'given-up' => [
                'page' => self::LONG
                    .'<script>const c = new AbortController(); fetch("/i/slow-abort.png", {signal: c.signal}).catch(() => 0);'
                        .' setTimeout(() => c.abort(), 150)</script>',
                'gaps' => [],
            ],
            'beacon' => [
                'page' => self::LONG
                    .'<script>navigator.sendBeacon("/beacon-end", "x"); fetch("/beacon-end", {method: "POST", body: "y", keepalive:'
                        .' true})</script>',
                'gaps' => [],
            ],
            'sprite' => [
                'page' => self::LONG.'<svg width="100" height="60"><use href="/sprite.svg#a"></use></svg>', 'kept' => ['/sprite.svg'],
            ],
            'constructed-style' => [
                'page' => self::LONG
                    .'<script>const s = new CSSStyleSheet(); s.replaceSync("body{background:#246 url(/i/built.png)}");'
                        .' document.adoptedStyleSheets = [s]</script>',
                'kept' => ['/i/built.png'],
            ],
            'moves' => [
                'page' => self::LONG
                    .'<style>@keyframes m{from{background:#111}to{background:#fff}}div{animation:m 1.3s linear infinite'
                        .' alternate;height:500px}</style><div></div>',
            ],
            'wants-its-cookie-back' => ['page' => '', 'text' => ['The ferry left']],

            // The server itself has it not: told, and no reader missed less.
            'picture-404' => [
                'page' => self::LONG.'<img src="/missing/x.png"><img src="/i/there.png">',
                'gaps' => ['/missing/x.png' => 'image status'],
                'kept' => ['/i/there.png'],
            ],
            'data-404' => [
                'page' => self::LONG.'<script>fetch("/missing/data").catch(() => 0)</script>', 'gaps' => ['/missing/data' => 'data status'],
            ],
            'fallback' => [
                'page' => self::LONG.'<img src="/missing/first.png" onerror="this.onerror = null; this.src = \'/i/second.png\'">',
                'gaps' => ['/missing/first.png' => 'image status'],
                'kept' => ['/i/second.png'],
                'plain' => 'whole',
            ],

            // What is missing, and why.
            'picture-nowhere' => [
                'page' => self::LONG.'<img src="http://nowhere.invalid/x.png">',
                'verdict' => 'gaps',
                'gaps' => ['http://nowhere.invalid/x.png' => 'image unreachable'],
                'plain' => 'gaps',
            ],
            'picture-inside' => [
                'page' => self::LONG
                    .'<img src="http://127.0.0.1/x.png"><img src="http://[::ffff:169.254.169.254]/y.png"><img'
                        .' src="http://2130706433/z.png">',
                'verdict' => 'gaps',
                'gaps' => [
                    'http://127.0.0.1/x.png' => 'image refused', 'http://[::ffff:a9fe:a9fe]/y.png' => 'image refused',
                    'http://127.0.0.1/z.png' => 'image refused',
                ],
                'plain' => 'gaps',
            ],
            'picture-cut' => [
                'page' => self::LONG.'<img src="/cut.png">', 'verdict' => 'gaps', 'gaps' => ['/cut.png' => 'image truncated'],
                'plain' => 'gaps',
            ],
            'style-reset' => [
                'page' => '<link rel="stylesheet" href="/reset.css">'.self::LONG,
                'verdict' => 'gaps',
                'gaps' => ['/reset.css' => 'style truncated'],
                'plain' => 'gaps',
            ],
            'picture-never' => [
                'page' => self::LONG.'<img src="/never.png">', 'verdict' => 'gaps', 'gaps' => ['/never.png' => 'image timeout'],
                'plain' => 'gaps', 'seconds' => 12,
            ],
            'socket' => [
                'page' => self::LONG.'<div id="t"></div><script>const s = new WebSocket("ws://" + location.host + "/live");'
                    .' s.binaryType = "arraybuffer";'
                    .' s.onmessage = e => { t.innerHTML += "<p>" + (typeof e.data === "string" ? e.data : "Bytes: " + new'
                        .' Uint8Array(e.data).join()); }</script>',
                'kept' => ['ws://pages.test/live'], 'text' => ['Ten boats are out.', 'The tide turns at noon', 'Bytes: 0,1,254,255'],
            ],
            'socket-that-answers' => [
                'page' => self::LONG.'<div id="t"></div><script>const s = new WebSocket("ws://pages.test/asked"); let n = 0; s.onopen'
                    .' = () => s.send("first");'
                    .' s.addEventListener("message", e => { t.innerHTML += "<p>" + e.data; if (++n < 3) setTimeout(() => s.send("and "'
                        .' + n), 300); })</script>',
                'kept' => ['ws://pages.test/asked'], 'text' => ['You asked: first', 'You asked: and 2'],
            ],
            'socket-in-a-worker' => [
                'page' => self::LONG.'<div id="t"></div><script>new Worker(URL.createObjectURL(new Blob(["const s = new'
                    .' WebSocket(\'ws://pages.test/closes\');'
                    .' s.onmessage = e => postMessage(e.data); s.onclose = e => postMessage(\'Closed: \' + e.code + \' \' + e.reason)"])))'
                    .'.onmessage = e => { t.innerHTML += "<p>" + e.data; }</script>',
                'kept' => ['ws://pages.test/closes'], 'text' => ['That is all.', 'Closed: 4001 no more'],
            ],
            'socket-over-tls' => [
                'page' => self::LONG.'<div id="t"></div><script>const s = new WebSocket(location.protocol.replace("http", "ws") + "//"'
                    .' + location.host + "/closes");'
                    .' s.onmessage = e => { t.innerHTML += "<p>" + e.data; }; s.onclose = e => { t.innerHTML += "<p>Closed with " +'
                        .' e.code; }</script>',
                'kept' => ['wss://pages.test/closes'], 'text' => ['That is all.', 'Closed with 4001'], 'https' => true,
            ],
            'socket-that-ticks' => [
                'page' => self::LONG.'<p id="t"></p><script>new WebSocket("ws://pages.test/ticks").onmessage = e => { t.textContent ='
                    .' e.data; }</script>',
                'kept' => ['ws://pages.test/ticks'], 'text' => ['Tick '],
            ],
            'socket-asked-anew' => [
                'page' => self::LONG.'<p id="t"></p><script>const s = new WebSocket("ws://pages.test/asked"), id ='
                    .' String(Math.random()); s.onopen = () => s.send(id);'
                    .' s.onmessage = e => { if (e.data.endsWith(id)) t.textContent = "It answered me."; }</script>',
                'verdict' => 'gaps', 'gaps' => ['ws://pages.test/asked' => 'data not-recordable'], 'text' => ['It answered me.'],
                'plain' => 'whole',
            ],
            'socket-broken' => [
                'page' => self::LONG.'<p id="t"></p><script>new WebSocket("ws://pages.test/broken").onmessage = e => { t.textContent ='
                    .' e.data; }</script>',
                'verdict' => 'gaps', 'gaps' => ['ws://pages.test/broken' => 'data not-recordable'], 'text' => ['So far so good.'],
                'plain' => 'whole',
            ],
            'socket-inside' => [
                'page' => self::LONG.'<script>new WebSocket("ws://127.0.0.1:8020/x"); new WebSocket("ws://pages.test/simple"); new'
                    .' WebSocket("ws://pages.test/missing/socket")</script>',
                'verdict' => 'gaps', 'plain' => 'whole', 'gaps' => [
                    'ws://127.0.0.1:8020/x' => 'data refused', 'ws://pages.test/simple' => 'data not-recordable',
                    'ws://pages.test/missing/socket' => 'data status',
                ],
            ],
            'stream' => [
                'page' => self::LONG
                    .'<p id="t"></p><script>new EventSource("/events").onmessage = e => { t.textContent = e.data; }</script>',
                'verdict' => 'gaps',
                'gaps' => ['/events' => 'data not-recordable'],
                'plain' => 'whole',
            ],
            'too-much' => [
                'page' => self::LONG.'<img src="/heavy.png">', 'verdict' => 'gaps', 'troubles' => ['cut-off'],
                'gaps' => ['/heavy.png' => 'image too-large'], 'bytes' => 200_000, 'plain' => 'gaps',
            ],
            'endless' => [
                'page' => self::LONG
                    .'<div id="list"></div><script>let n = 0; const add = () => { n++; list.insertAdjacentHTML("beforeend", "<p'
                        .' style=height:900px>Batch " + n + "</p>"); }; add(); addEventListener("scroll", () => { if (innerHeight +'
                            .' scrollY > document.documentElement.scrollHeight - 50) add(); })</script>',
                'verdict' => 'gaps',
                'troubles' => ['endless-scroll'],
                'plain' => 'whole',
            ],
            'consent' => [
                'page' => self::LONG
                    .'<div style="position:fixed;inset:0;background:rgba(0,0,0,.6)"><div style="background:#fff;margin:15%'
                        .' auto;width:500px;padding:40px">We value your privacy. We and our partners use cookies. <button>Accept'
                            .' all</button> <button>Reject</button></div></div>',
                'verdict' => 'gaps',
                'troubles' => ['consent'],
                'plain' => 'whole',
            ],
            'consent-that-goes' => [
                'page' => self::LONG.$far
                    .'<dialog id="d">We use cookies to measure, and ask for your consent.'
                        .' <button>Accept</button></dialog><script>d.style.cssText = "width:90vw;height:80vh"; d.showModal();'
                            .' addEventListener("scroll", () => d.close())</script>',
                'verdict' => 'gaps',
                'troubles' => ['consent'],
                'plain' => 'whole',
            ],
            'consent-instead' => [
                'page' => '<div style="position:fixed;inset:0;background:#fff;padding:20%">Before you continue: this site uses cookies'
                    .' and needs your consent. <button>Accept all</button></div>',
                'verdict' => 'failed',
                'troubles' => ['consent'],
                'plain' => 'whole',
            ],
            'plug-in' => [
                'page' => self::LONG.'<object type="application/x-shockwave-flash" data="/movie.swf" width="300" height="200"></object>',
                'troubles' => ['plugin'],
                'kept' => ['/movie.swf'],
                'plain' => 'whole',
            ],

            'playlist' => [
                'page' => self::LONG.'<video src="/list.m3u8" width="300" height="200"></video>',
                'verdict' => 'gaps',
                'gaps' => ['/list.m3u8' => 'media not-recordable'],
                'plain' => 'gaps',
            ],
            'film-in-pieces' => [
                'page' => self::LONG
                    .'<video width="300" height="200"></video><script>document.querySelector("video").srcObject ='
                        .' document.createElement("canvas").captureStream()</script>',
                'verdict' => 'gaps',
                'plain' => 'whole',
            ],
            'script-without-end' => ['page' => self::LONG.'<img src="/i/before.png"><script>setTimeout(() => { while (true); },'
                .' 300)</script>', 'kept' => ['/i/before.png'], 'text' => ['The ferry left'],
                'verdict' => 'gaps', 'troubles' => ['cut-off'], 'seconds' => 20],

            'wants-all-memory' => [
                'page' => self::LONG
                    .'<img src="/i/before.png"><script>setTimeout(() => { const a = []; while (true) a.push(new Array(1e6).fill(a.length'
                        .' + 0.5)); }, 200)</script>',
                'verdict' => 'failed',
                'kept' => ['/i/before.png'],
                'plain' => 'whole',
            ],

            // Nothing that a reader came for.
            'login' => [
                'page' => '<h1>Log in</h1><form><input name="user"><input type="password" name="p"><button>Log in</button></form>',
                'verdict' => 'failed',
                'troubles' => ['login'],
            ],
            'paywall' => [
                'page' => '<h1>The seal</h1><p>Its maker says it should have been replaced.</p><p>Subscribe to continue reading.</p>',
                'verdict' => 'failed',
                'troubles' => ['login'],
            ],
            'members-only' => [
                'page' => '<h1>Thread</h1><p>You must be logged in to read this thread.</p>',
                'verdict' => 'failed',
                'troubles' => ['login'],
            ],
            'riddle' => [
                'page' => '<title>One moment</title><h1>Checking your browser</h1><p>Please verify you are human.</p><div'
                    .' class="challenge-box"></div>',
                'verdict' => 'failed',
                'troubles' => ['challenge'],
            ],
            'soft-404' => [
                'page' => '<title>Page not found</title><h1>Oops</h1><p>The page you are looking for does not exist.</p>',
                'verdict' => 'failed',
                'troubles' => ['soft-404'],
            ],
            'moved-things-around' => [
                'page' => '<title>Harbour board</title><h1>Sorry, this document is no longer available</h1><p>We have moved things'
                    .' around.</p>',
                'verdict' => 'failed',
                'troubles' => ['soft-404'],
            ],
            'shell' => [
                'page' => '<div id="root"></div><script src="/missing/app.js"></script>',
                'verdict' => 'failed',
                'troubles' => ['empty-shell'],
            ],
            'spinner' => [
                'page' => '<div class="spinner">Loading…</div><script>fetch("/never.json")</script>', 'verdict' => 'failed',
                'troubles' => ['empty-shell'], 'seconds' => 60,
            ],
            'needs-scripts' => [
                'page' => '<noscript>You need to enable JavaScript to run this app.</noscript><div id="app"></div><script>throw 1</script>',
                'verdict' => 'failed',
                'troubles' => ['empty-shell'],
            ],
            'error' => ['page' => '<h1>Internal server error</h1>', 'verdict' => 'failed', 'troubles' => ['error-status']],
            'loop' => ['page' => '', 'verdict' => 'failed', 'troubles' => ['redirect-loop']],
        ];
    }

    /**
     * What the file of a page has to hold of its parts.
     *
     * @return array{list<string>, list<string>} addresses that are in it, and that cannot be
     */
    public static function held(string $name, bool $rendered): array
    {
        $all = self::pages()[$name]['kept'] ?? [];
        $lacks = $rendered ? [] : self::ASKED_BY_SCRIPTS[$name] ?? [];

        return [array_values(array_diff($all, $lacks)), $lacks];
    }

    public function hosts(\DateTimeImmutable $now): array
    {
        return [self::HOST, 'cdn.pages.test', 'frames.other-pages.test'];
    }

    public function answer(Request $request): Response
    {
        $name = substr($request->path, 1);
        $page = self::pages()[$name] ?? null;

        $socket = SocketTalk::answer($request);

        return match (true) {
            null !== $socket => $socket,
            'redirected' === $name => Response::redirect('/hop', 302),
            'hop' === $name => Response::redirect('http://pages.test/simple', 301),
            'wants-its-cookie-back' === $name => str_contains($request->head->fields->get('Cookie') ?? '', 'seen=1')
                ? self::page(self::LONG)
                : Response::redirect('/wants-its-cookie-back', 302)->with('Set-Cookie', 'seen=1; Path=/'),
            'old-server' === $name => Response::raw("HTTP/1.0 200 OK\r\nContent-Type: text/html\r\n\r\n<title>Old</title>".self::LONG),
            'no-type' === $name => Response::raw("HTTP/1.1 200 OK\r\nConnection: close\r\n\r\n".self::pages()['no-type']['page']),
            'sw.js' === $name => Response::of(
                'text/javascript',
                'addEventListener("install", e => e.waitUntil(caches.open("x").then(c => c.addAll(["/i/precached.png"]))))',
            ),
            'shared.js' === $name => Response::of(
                'text/javascript',
                'onconnect = e => fetch("/data?shared").then(r => r.json()).then(d => e.ports[0].postMessage("Shared: " + d.text))',
            ),
            'said' === $name => self::page('<p>Your form came.</p>'.self::LONG),
            'beacon-end' === $name => new Response(204, [], ''),
            'sprite.svg' === $name => Response::of(
                'image/svg+xml',
                '<svg xmlns="http://www.w3.org/2000/svg"><symbol id="a"><rect width="90" height="50" fill="#246"/></symbol></svg>',
            ),
            'loop' === $name => Response::redirect('/loop?'.(((int) $request->query) + 1), 302),
            null !== $page => self::page($page['page'], 'error' === $name ? 500 : 200, 'packed' === $name),
            str_starts_with($name, 'i/slow') => self::picture($name)->after(4.0),
            str_starts_with($name, 'i/') => self::picture($name),
            'cut.png' === $name => self::picture($name)->cutAt(250),
            'reset.css' === $name => Response::of('text/css', str_repeat('p{color:#123}', 400))->cutAt(900, true),
            str_starts_with($name, 'never') => self::picture($name)->after(90.0),
            'heavy.png' === $name => Response::of('image/png', self::noise()),
            'a.css' === $name => Response::of(
                'text/css',
                '@import "b.css"; @font-face{font-family:own;src:url(font.woff2) format("woff2"),url(font.woff)} body{font-family:own}',
            ),
            'b.css' === $name => Response::of('text/css', 'body{background:url("i/ground.png")}'),
            'font.woff2' === $name => Response::of(
                'font/woff2', (string) file_get_contents(\dirname(__DIR__, 2).'/public/build/fonts/commissioner.woff2'),
            )->with('Access-Control-Allow-Origin', '*'),
            'inner' === $name => self::page('<img src="/i/framed.png"><p id="t"></p><script>t.textContent = "Made in the frame."</script>'),
            'who-asks' === $name => self::page(
                '<p>'
                    .(str_contains(
                        $request->head->fields->get('Cookie') ?? '', 'session=s3cr3t-v4lue',
                    ) ? 'You are signed in.' : 'Who are you?')
                    .' '.('Bearer t0k3n-abc' === $request->head->fields->get('Authorization') ? 'Authorised.' : '').' Language: '
                    .htmlspecialchars($request->head->fields->get('Accept-Language') ?? '-').'. Agent: '
                    .htmlspecialchars($request->head->fields->get('User-Agent') ?? '-').'. '
                    .htmlspecialchars($request->head->fields->get('X-Own') ?? '')
                    .'</p><p id="t">No script ran.</p><script>t.textContent = "Width " + innerWidth</script>'.self::LONG,
            )->with('Set-Cookie', 'fresh=n3w-s3cr3t; Path=/'),
            // Page and frame, on two hosts, say what they were told.
            'told' === $name => self::page(
                self::LONG.'<p>Told: '
                    .htmlspecialchars(($request->head->fields->get('X-Key') ?? 'nothing').' '
                        .($request->head->fields->get('Authorization') ?? 'nothing'))
                    .'.</p><iframe src="'.self::CDN.'/told-elsewhere"></iframe>',
            ),
            'told-elsewhere' === $name => self::page(
                '<p>Elsewhere: '
                    .htmlspecialchars(($request->head->fields->get('X-Key') ?? 'nothing').' '
                        .($request->head->fields->get('Authorization') ?? 'nothing'))
                    .'.</p>',
            ),
            'robots.txt' === $name => Response::of('text/plain', "User-agent: *\nDisallow: /private\n"),
            'partly-private' === $name => self::page(self::LONG.'<img src="/private/x.png"><img src="/i/y.png">'),
            'parts' === $name => self::page(
                '<title>Parts</title><meta name="description" content="A page in parts, for tests"><h1>Parts</h1>'.self::LONG
                    .'<div id="matters" style="width:300px;height:120px;overflow:hidden"><p>The part that matters.</p></div><img'
                        .' src="/i/y.png"><link rel=stylesheet href="/i/none.css">',
            ),
            str_starts_with($name, 'private/') => self::picture('i/'.$name),
            'hop-to-nothing.png' === $name => Response::redirect('/missing/hop.png', 302),
            'inward' === $name => Response::redirect('http://127.0.0.1:1/', 302),
            'tabbed' === $name => self::page('<p>In a tab.</p><img src="/i/tabbed.png">'),
            'list.m3u8' === $name => Response::of('application/vnd.apple.mpegurl', "#EXTM3U\n#EXTINF:4,\npiece1.ts\n"),
            'outer' === $name => self::page('<iframe src="'.self::CDN.'/inner"></iframe>'),
            'data' === $name => Response::of('application/json', '{"text":"Fetched text."}'),
            'echo' === $name => Response::of('text/plain', 'You said: '.$request->body.'.'),
            'worker.js' === $name => Response::of(
                'text/javascript', 'fetch("/data?worker").then(r => r.json()).then(d => postMessage("From a worker: " + d.text))',
            ),
            'm/a.js' === $name => Response::of('text/javascript', 'export {word} from "./b.js"'),
            'm/b.js' === $name => Response::of('text/javascript', 'export const word = "imported"'),
            'film.mp4' === $name => Response::of('video/mp4', str_repeat(hash('sha512', 'film', true), 8_000)),
            \in_array($name, ['sound.ogg', 'sound.mp3'], true) => Response::of('audio/ogg', str_repeat(hash('sha512', $name, true), 500)),
            'movie.swf' === $name => Response::of('application/x-shockwave-flash', 'FWS'.random_bytes(300)),
            'events' === $name => Response::streamed(
                'text/event-stream', 1_000_000, static function (): \Generator { yield "data: tick\n\n"; },
            ),
            default => self::page('<h1>Not found</h1>', 404),
        };
    }

    private static function page(string $body, int $status = 200, bool $packed = false): Response
    {
        $title = str_contains($body, '<title>') ? '' : '<title>Trap</title>';
        $response = Response::html(
            '<!doctype html><html><head><meta charset="utf-8">'.$title.'</head><body>'.$body.'</body></html>', $status,
        );

        return $packed ? $response->gzip()->chunked() : $response;
    }

    private static function picture(string $name): Response
    {
        return Response::of(
            'image/png',
            Art::ship(
                200, 100, '#'.substr(hash('sha256', $name), 0, 3), strtoupper(substr(basename($name, '.png'), 0, 8)), \ord($name[2] ?? 'a'),
            ),
        )->with('Access-Control-Allow-Origin', '*');
    }

    /** A picture of some 480 kB that is one: a browser gives up what it can't decode, after however much it has read. */
    private static function noise(): string
    {
        $chunk = static fn (string $type, string $data): string => pack('N', \strlen($data)).$type.$data.pack('N', crc32($type.$data));
        $rows = '';
        for ($row = 0; $row < 400; ++$row) {
            $rows .= "\0".random_bytes(3 * 400);
        }

        return "\x89PNG\r\n\x1a\n".$chunk('IHDR', pack('NNCCCCC', 400, 400, 8, 2, 0, 0, 0)).$chunk('IDAT', (string) gzcompress($rows, 1))
            .$chunk('IEND', '');
    }
}
