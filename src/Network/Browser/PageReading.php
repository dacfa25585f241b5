<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

/** Reads out what a page came to be: document, text, pictures, and what a reader would notice about it. */
final readonly class PageReading
{
    public const MAX_HEIGHT = 40_000;
    /** Of the picture of one part, in pixels. */
    private const MOST_WIDE = 2_560.0;
    private const MOST_HIGH = 4_000.0;

    /** Of one picture, so that even of noise it fits into one message. */
    private const TILE_PIXELS = 3_000_000;
    /** Pixels from the top to the end of a page that is very long. */
    private const TALL = 150_000;
    /** What stands in shadow roots is no part of their hosts' text. */
    private const TEXT = '(() => { const parts = [document.body ? document.body.innerText : (document.documentElement ?'
        .' document.documentElement.textContent : "")]; const walk = node => { for (const e of node.querySelectorAll("*")) if'
        .' (e.shadowRoot) { for (const child of e.shadowRoot.children) if (!/^(?:STYLE|SCRIPT|TEMPLATE)$/.test(child.nodeName))'
        .' parts.push(child.innerText || ""); walk(e.shadowRoot); } }; walk(document); return parts.filter((p, n) => n === 0 ||'
        .' p.trim() !== "").join("\n"); })()';

    public function __construct(private PageSession $page)
    {
    }

    /**
     * Where the page moves by itself, so that no two pictures of it are the same.
     *
     * @return list<array{int, int, int, int}> left, top, right, bottom, in pixels of the whole page
     */
    public function moving(): array
    {
        $found = $this->page->evaluate(
            'JSON.stringify([...document.getAnimations().filter(a => a.playState === "running" && a.effect && a.effect.target).map(a =>'
                .' a.effect.target), ...document.querySelectorAll("video,marquee,img[src*=\\".gif\\"]")].slice(0, 200).map(e => { const'
                    .' b = e.getBoundingClientRect(); return [b.left + scrollX, b.top + scrollY, b.right + scrollX, b.bottom +'
                        .' scrollY].map(Math.round); }))',
        );
        $list = \is_string($found) ? json_decode($found, true) : [];
        $boxes = [];
        foreach (\is_array($list) ? $list : [] as $box) {
            if (\is_array($box) && 4 === \count($box) && [] === array_filter($box, static fn (mixed $n): bool => !\is_int($n))) {
                /** @var array{int, int, int, int} $box */
                $boxes[] = $box;
            }
        }

        return $boxes;
    }

    /**
     * What lies over the page: the share of the window that layers above the text cover, and their words.
     *
     * @return array{share: float, text: string}
     */
    public function layers(): array
    {
        $found = $this->page->evaluate(<<<'JS'
            (() => {
              const layers = new Set(); let covered = 0;
              for (let x = 0; x < 7; x++) for (let y = 0; y < 7; y++) {
                let top = null;
                const above = e => e.parentElement || (e.getRootNode() instanceof ShadowRoot ? e.getRootNode().host : null);
                for (let e = document.elementFromPoint(innerWidth * (x + 0.5) / 7, innerHeight * (y + 0.5) / 7); e; e = above(e)) {
                  const style = getComputedStyle(e);
                  const isAbove = style.position === "fixed" || (style.position === "absolute" && Number(style.zIndex) > 0);
                  if (isAbove || e.matches("dialog[open]")) top = e;
                }
                if (top && top !== document.body && top !== document.documentElement) { layers.add(top); covered++; }
              }
              const words = e => [
                e.innerText || "",
                ...[...e.querySelectorAll("iframe")].map(f => f.title + " " + f.name + " " + f.src),
                ...[...e.querySelectorAll("*")].concat(e)
                  .map(i => i.shadowRoot ? [...i.shadowRoot.children].map(c => c.innerText || "").join(" ") : ""),
              ].join(" ");
              return JSON.stringify({share: covered / 49, text: [...layers].map(words).join(" ").slice(0, 20000)});
            })()
            JS);
        $data = PageSession::map(['found' => \is_string($found) ? json_decode($found, true) : null], 'found');

        return ['share' => PageSession::number($data, 'share'), 'text' => PageSession::text($data, 'text')];
    }

    /**
     * Where on the page the parts are shown that it names.
     *
     * @return array{page: array{int, int}, parts: array<string, array{int, int, int, int}>} width and height of the page; left, top, width,
     *     height by address
     */
    public function places(): array
    {
        $found = $this->page->evaluate(<<<'JS'
            (() => {
              const places = {}; let count = 0;
              const put = (address, element) => {
                if (!address || count > 3000) return;
                let url; try { url = new URL(address, document.baseURI); } catch { return; }
                url.hash = '';
                const box = element.getBoundingClientRect();
                if (!/^https?:$/.test(url.protocol) || url.href in places) return;
                count++;
                places[url.href] = [box.left + scrollX, box.top + scrollY, Math.max(box.width, 12), Math.max(box.height, 12)]
                  .map(Math.round);
              };
              for (const e of document.querySelectorAll('img,video,audio,iframe,frame,embed,object,input[type=image],picture source')) {
                const shown = e.matches('source') ? e.parentElement : e;
                const candidates = (e.srcset || '').split(',').map(one => one.trim().split(/\s/)[0]);
                for (const address of [e.currentSrc, e.src, e.data, e.poster, ...candidates]) put(address, shown);
              }
              for (const e of [...document.querySelectorAll('body, body *')].slice(0, 8000)) {
                for (const m of getComputedStyle(e).backgroundImage.matchAll(/url\("([^"]+)"\)/g)) put(m[1], e);
              }
              const root = document.documentElement;
              const size = [Math.max(root.scrollWidth, innerWidth), Math.max(root.scrollHeight, innerHeight)];
              return JSON.stringify({ page: size, parts: places });
            })()
            JS);
        $data = \is_string($found) ? json_decode($found, true) : null;
        $page = \is_array($data) ? self::integers($data['page'] ?? null, 2) : null;
        $parts = [];
        foreach (\is_array($data) && \is_array($data['parts'] ?? null) ? $data['parts'] : [] as $url => $box) {
            $box = self::integers($box, 4);
            if (null !== $box) {
                $parts[(string) $url] = [$box[0], $box[1], $box[2], $box[3]];
            }
        }

        return ['page' => null === $page ? [0, 0] : [$page[0], $page[1]], 'parts' => $parts];
    }

    /** @return list<int>|null */
    private static function integers(mixed $list, int $count): ?array
    {
        return \is_array($list) && $count === \count($list) && [] === array_filter($list, static fn (mixed $n): bool => !\is_int($n))
            ? array_map(static fn (mixed $n): int => \is_int($n) ? $n : 0, array_values($list))
            : null;
    }

    /** Pictures, films, drawings and frames that are large enough to be what a reader came for. */
    public function substance(): int
    {
        $found = $this->page->evaluate(
            '[...document.querySelectorAll("img,video,audio,canvas,svg,iframe,frame,object,embed,picture")].filter(e => { const b ='
                .' e.getBoundingClientRect(); return b.width * b.height > 10000 && (!(e instanceof HTMLImageElement) || e.naturalWidth >'
                    .' 40); }).length + (document.querySelector("audio") ? 1 : 0)',
        );

        return \is_int($found) ? $found : 0;
    }

    /**
     * Films and sounds that are put together by scripts, or come live.
     *
     * @return list<string> made-up addresses
     */
    public function streams(): array
    {
        $found = $this->page->evaluate(
            'JSON.stringify([...document.querySelectorAll("video,audio")].filter(m => m.srcObject || /^(?:blob|'
                .'mediastream):/.test(m.currentSrc || m.src)).map(m => m.currentSrc || m.src || "mediastream:").slice(0, 50))',
        );
        $list = \is_string($found) ? json_decode($found, true) : [];

        return array_values(array_filter(\is_array($list) ? $list : [], '\is_string'));
    }

    /**
     * Frames of the page, wherever they live.
     *
     * @return list<array{url: string, session: string, frame: string}>
     */
    public function frames(): array
    {
        $found = [];
        foreach ($this->page->sessions() as $session) {
            try {
                $tree = $this->page->inSession('Page.getFrameTree', $session);
            } catch (BrowserFailed) {
                continue;
            }
            $this->inTree(PageSession::map($tree, 'frameTree'), $session, $session === $this->page->sessions()[0], $found);
        }

        return \array_slice($found, 0, PageSession::MAX_FRAMES);
    }

    /**
     * @param array<string, mixed> $tree
     * @param list<array{url: string, session: string, frame: string}> $found
     */
    private function inTree(array $tree, string $session, bool $isMain, array &$found): void
    {
        $frame = PageSession::map($tree, 'frame');
        $url = PageSession::text($frame, 'url');
        if (!$isMain) {
            $found[] = ['url' => $url, 'session' => $session, 'frame' => PageSession::text($frame, 'id')];
        }
        foreach (\is_array($tree['childFrames'] ?? null) ? $tree['childFrames'] : [] as $child) {
            if (\is_array($child) && \count($found) < PageSession::MAX_FRAMES) {
                /** @var array<string, mixed> $child */
                $this->inTree($child, $session, false, $found);
            }
        }
    }

    /**
     * A frame's document after scripts; frames without an address of their own stand in it as what they show.
     *
     * @param array{url: string, session: string, frame: string}|null $frame null for the page itself
     */
    public function saveDom(string $path, ?array $frame = null): int
    {
        return $this->page->save($path, <<<'JS'
            (() => {
              const shown = [], inner = [...document.querySelectorAll("iframe")].filter(f => {
                try {
                  const own = f.contentDocument;
                  return own && own.documentElement && /^about:/.test(own.URL) && (own.body || {}).innerHTML;
                } catch (e) { return false; }
              });
              inner.forEach((f, n) => { shown[n] = f.contentDocument.documentElement.outerHTML; f.setAttribute("data-ypomna-frame", n); });
              const put = html => inner.length === 0 ? html : html.replace(/<iframe(?:\s+[^\s=>]+(?:="[^"]*")?)*\s*>/gi, tag => {
                const n = (tag.match(/ data-ypomna-frame="(\d+)"/) || [])[1];
                if (n === undefined) return tag;
                const within = '<iframe srcdoc="' + shown[n].replace(/&/g, "&amp;").replace(/"/g, "&quot;") + '"';
                return tag.replace(/ data-ypomna-frame="\d+"/, "").replace(/ srcdoc="[^"]*"/, "").replace(/^<iframe/i, within);
              });
              try { return put((() => {
              const type = document.doctype ? new XMLSerializer().serializeToString(document.doctype) + "\n" : "";
              const root = document.documentElement;
              const roots = [];
              const walk = node => {
                for (const e of node.querySelectorAll("*")) { const s = e.shadowRoot; if (s) { roots.push(s); walk(s); } }
              };
              if (!root) return "";
              walk(document);
              if (!root.getHTML) return type + root.outerHTML;
              const open = root.outerHTML.match(/^<[^>]*>/);
              return type + (open ? open[0] : "<html>") + root.getHTML({serializableShadowRoots: true, shadowRoots: roots}) + "</html>";
              })()); } finally { inner.forEach(f => f.removeAttribute("data-ypomna-frame")); }
            })()
            JS, $frame);
    }

    /**
     * The text that a reader sees. Writes it to a file and gives its length in bytes.
     *
     * @param array{url: string, session: string, frame: string}|null $frame null for the page itself
     */
    public function saveText(string $path, ?array $frame = null): int
    {
        return $this->page->save($path, self::TEXT, $frame);
    }

    /** The text of page and frames as it is now, white space folded. */
    public function textNow(): string
    {
        $text = $this->page->evaluate('('.self::TEXT.').slice(0, 4000000)');

        return \is_string($text) ? trim((string) preg_replace('/\s+/u', ' ', mb_scrub($text))) : '';
    }

    /** What the page calls itself, cut to a bearable length. */
    public function title(): string
    {
        $title = $this->page->evaluate('document.title.slice(0, 1000)');

        return \is_string($title) ? trim($title) : '';
    }

    /**
     * The whole page as pictures of a few million pixels, from the top on.
     *
     * @param \Closure(int): string $pathOf path of the file for each tile
     * @param float $seconds how long it may take; a very long page is taken as far as that
     * @param list<string>|null $like pictures beside which these are to be laid: as many, each as high as its fellow
     *
     * @return list<string> the files that were written
     */
    public function savePictures(\Closure $pathOf, float $seconds = 20.0, ?array $like = null): array
    {
        $metrics = $this->page->call('Page.getLayoutMetrics');
        $size = PageSession::map($metrics, 'cssContentSize');
        $height = (int) min(self::MAX_HEIGHT, max($this->page->height, PageSession::number($size, 'height')));
        $width = (int) min(4_000, max($this->page->width, PageSession::number($size, 'width')));
        // For a picture of what lies beyond the window the browser lays the page out anew, twice: of a very long one that takes many
        // seconds for each. Of such a page the window is taken, screen by screen.
        $isTall = PageSession::number($size, 'height') > self::TALL;
        [$width, $tile] = $isTall ? [$this->page->width, $this->page->height] : [$width, intdiv(self::TILE_PIXELS, $width)];
        $paths = [];
        $until = microtime(true) + $seconds;
        $goesOn = static fn (int $top): bool => $top < $height && (0 === $top || microtime(true) < $until);
        for ($top = 0; $goesOn($top) && (null === $like || isset($like[\count($paths)])); $top += $tile) {
            $fellow = null === $like ? false : @getimagesize($like[\count($paths)]);
            $tile = false === $fellow ? $tile : $fellow[1];
            if ($isTall) {
                $this->page->evaluate('scrollTo({top: '.$top.', behavior: "instant"})');
            }
            $clip = ['x' => 0, 'y' => $top, 'width' => $width, 'height' => min($tile, $height - $top), 'scale' => 1];
            $how = ['format' => 'png', 'captureBeyondViewport' => !$isTall, 'clip' => $clip];
            $shot = $this->page->call('Page.captureScreenshot', $how, 60.0);
            $path = $pathOf(\count($paths));
            if (false === @file_put_contents($path, base64_decode(PageSession::text($shot, 'data'), true))) {
                throw new BrowserFailed('The page picture cannot be written.');
            }
            $paths[] = $path;
        }
        if ($isTall) {
            $this->page->evaluate('scrollTo({top: 0, behavior: "instant"})');
        }

        return $paths;
    }

    /** Where the page is now. */
    /**
     * Takes a picture of one part of the page.
     *
     * @param string $part a CSS selector, or words that stand in the part
     *
     * @return string|null what is written there; null if there is no such part
     *
     * @throws BrowserFailed
     */
    public function savePart(string $part, string $path): ?string
    {
        $named = json_encode($part, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
        $found = $this->page->evaluate('(() => { const part = '.$named.<<<'JS'
            ;
            const fold = text => (text || '').normalize('NFC').replace(/\s+/g, ' ').trim().toLowerCase();
            const shown = element => { const box = element.getBoundingClientRect(); return box.width > 1 && box.height > 1; };
            let best = null;
            try { best = [...document.querySelectorAll(part)].find(shown) || null; } catch { /* No selector: words. */ }
            const words = fold(part);
            for (const element of best || !words ? [] : document.body.querySelectorAll('*')) {
              const isBetter = () => !best || element.innerText.length <= best.innerText.length;
              if (shown(element) && fold(element.innerText).includes(words) && isBetter()) best = element;
            }
            if (!best) return null;
            const box = best.getBoundingClientRect();
            return { x: box.left + scrollX, y: box.top + scrollY, width: box.width, height: box.height, text: best.innerText || '' };
            })()
            JS);
        if (!\is_array($found)) {
            return null;
        }
        /** @var array<string, mixed> $found */
        $clip = [
            'x' => max(0.0, PageSession::number($found, 'x')),
            'y' => max(0.0, PageSession::number($found, 'y')),
            'width' => min(self::MOST_WIDE, PageSession::number($found, 'width')),
            'height' => min(self::MOST_HIGH, PageSession::number($found, 'height')),
            'scale' => 1,
        ];
        $picture = base64_decode(
            PageSession::text(
                $this->page->call('Page.captureScreenshot', ['format' => 'png', 'captureBeyondViewport' => true, 'clip' => $clip]), 'data',
            ),
            true,
        );
        if (false === $picture || '' === $picture || false === @file_put_contents($path, $picture)) {
            throw new BrowserFailed('The picture of the part could not be taken.');
        }

        return mb_strcut(mb_scrub(PageSession::text($found, 'text')), 0, 4_194_304);
    }

    public function url(): string
    {
        $url = $this->page->evaluate('document.baseURI && location.href');

        return \is_string($url) ? $url : '';
    }
}
