<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Browser;

use Revolt\EventLoop;
use Ypomna\App\Capture\CaptureOrder;
use Ypomna\Core\Fetch\Gateway;

/**
 * One page in the browser: opened, scrolled through, and read out. What is evaluated runs in a world of its own that
 * the page's scripts can neither see nor change.
 */
final class PageSession
{
    private const WIDTH = 1280;
    private const HEIGHT = 800;
    /** No network for so long: the page is at rest. */
    private const QUIET_SECONDS = 0.6;
    /** Of one picture, so that even of noise it fits into one message. */
    private const TILE_PIXELS = 3_000_000;
    private const MAX_HEIGHT = 40_000;
    private const SLICE = 1_048_576;
    private const MAX_TEXT = 33_554_432;
    /** No byte for so long, though answers are owed: what is awaited is not part of the page's coming about. */
    private const STALLED_SECONDS = 10.0;
    private const LONGEST_REST = 20.0;
    private const HANGING_SECONDS = 15.0;
    /** A script that runs for longer at a stretch is ended. */
    private const ANSWER_SECONDS = 12.0;
    /** A page that grew so often when its end was reached has none. */
    private const GROWTHS = 20;
    private const MAX_FRAMES = 60;
    private const MAX_HEARD = 20_000;
    /** What stands in shadow roots is no part of their hosts' text. */
    private const TEXT = '(() => { const parts = [document.body ? document.body.innerText : (document.documentElement ? document.documentElement.textContent : "")]; const walk = node => { for (const e of node.querySelectorAll("*")) if (e.shadowRoot) { for (const child of e.shadowRoot.children) if (!/^(?:STYLE|SCRIPT|TEMPLATE)$/.test(child.nodeName)) parts.push(child.innerText || ""); walk(e.shadowRoot); } }; walk(document); return parts.filter((p, n) => n === 0 || p.trim() !== "").join("\n"); })()';

    private string $session = '';
    private string $frame = '';
    private bool $loaded = false;
    private ?string $documentUrl = null;
    private bool $grew = false;
    private bool $ended = false;
    private bool $crashed = false;
    private string $target = '';
    /** @var array<string, string> what every address was asked for as that the page, its frames and workers asked for */
    private array $asked = [];
    /** @var array<string, int> status by address, of what was answered */
    private array $answered = [];
    /** @var array<string, true> sessions of frames that live in processes of their own */
    private array $frameSessions = [];

    /**
     * @param Gateway|null      $gateway tells when the network is at rest; null where there is none to speak of
     * @param int               $width   of the window, in pixels
     * @param CaptureOrder|null $order   how it is to be seen
     */
    public function __construct(private readonly Chromium $browser, private readonly ?Gateway $gateway, private readonly int $width = self::WIDTH, private readonly int $height = self::HEIGHT, private readonly ?CaptureOrder $order = null)
    {
    }

    /**
     * @throws BrowserFailed
     */
    public function open(): void
    {
        $this->browser->listen($this->heard(...));
        $this->browser->call('Browser.setDownloadBehavior', ['behavior' => 'deny']);
        $target = $this->browser->call('Target.createTarget', ['url' => 'about:blank']);
        $this->target = self::text($target, 'targetId');
        $attached = $this->browser->call('Target.attachToTarget', ['targetId' => $this->target, 'flatten' => true]);
        $this->session = self::text($attached, 'sessionId');
        $this->call('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]);
        // Workers that belong to no single page report by themselves.
        $this->browser->call('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true, 'filter' => [['type' => 'service_worker'], ['type' => 'shared_worker']]]);
        $this->call('Page.enable');
        $this->call('Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0]);
        $this->call('Network.setExtraHTTPHeaders', ['headers' => $this->fields()]);
        $this->present();
        $this->call('Emulation.setDeviceMetricsOverride', ['width' => $this->width, 'height' => $this->height, 'deviceScaleFactor' => 1, 'mobile' => true === $this->order?->phone]);
        if (false === $this->order?->scripts) {
            $this->call('Emulation.setScriptExecutionDisabled', ['value' => true]);
        }
        $tree = $this->call('Page.getFrameTree');
        $this->frame = self::text(self::map(self::map($tree, 'frameTree'), 'frame'), 'id');
    }

    /** Waits, whatever the network does. */
    public function wait(float $seconds): void
    {
        if ($seconds > 0) {
            self::pause($seconds);
            $this->rest(microtime(true) + self::LONGEST_REST);
        }
    }

    /**
     * @return array<string, string>
     */
    private function fields(): array
    {
        // Only codings that any reader can undo later; the servers' answers are kept as they come.
        return ['Accept-Encoding' => 'gzip'] + ($this->order->fields ?? []);
    }

    /** As whom the browser asks. */
    private function present(): void
    {
        $own = $this->agent();
        $agent = $this->order?->userAgent($own);
        if (null !== $agent || null !== $this->order?->language) {
            $this->call('Emulation.setUserAgentOverride', ['userAgent' => $agent ?? $own] + (null === $this->order?->language ? [] : ['acceptLanguage' => $this->order->language]));
        }
        if (true === $this->order?->phone) {
            $this->call('Emulation.setTouchEmulationEnabled', ['enabled' => true]);
        }
        foreach ($this->order->cookies ?? [] as $cookie) {
            $this->call('Network.setCookie', ['name' => $cookie->name, 'value' => $cookie->value, 'domain' => ($cookie->forAll ? '.' : '').$cookie->domain, 'path' => $cookie->path, 'secure' => $cookie->secure] + ($cookie->forAll ? [] : ['url' => ($cookie->secure ? 'https://' : 'http://').$cookie->domain.$cookie->path]));
        }
    }

    /**
     * Loads the page and waits until its network is at rest.
     *
     * @return string|null what the browser says went wrong, in its words
     *
     * @throws BrowserFailed
     */
    public function load(string $url, float $seconds): ?string
    {
        $answer = $this->call('Page.navigate', ['url' => $url], $seconds);
        $error = self::text($answer, 'errorText');
        if ('' !== $error) {
            return $error;
        }
        $until = microtime(true) + $seconds;
        while (!$this->loaded && !$this->crashed && microtime(true) < $until && !$this->hangs()) {
            self::pause(0.05);
        }
        // A page that asks on and on is never at rest.
        $this->rest(min($until, microtime(true) + self::LONGEST_REST));

        return null;
    }

    /** The document is there, but something that it waits for has been silent for long. */
    private function hangs(): bool
    {
        return null !== $this->documentUrl && null !== $this->gateway && hrtime(true) / 1e9 - $this->gateway->lastActivity() > self::HANGING_SECONDS;
    }

    /** Scrolls to the bottom in steps, as a reader does, so that what loads on sight is loaded; then back to the top. */
    public function scrollThrough(float $seconds): void
    {
        $until = microtime(true) + $seconds;
        $height = $growths = $before = 0;
        for ($step = 0; $step < 400 && microtime(true) < $until; ++$step) {
            $now = $this->evaluate('(() => { const e = document.scrollingElement || document.documentElement; const y = e.scrollTop; e.scrollBy({top: innerHeight * 0.8, behavior: "instant"}); return (e.scrollTop === y ? -1 : 1) * e.scrollHeight; })()');
            $now = \is_int($now) || \is_float($now) ? (int) $now : -1;
            $growths += $before > 0 && abs($now) > $before + $this->height / 2 ? 1 : 0;
            $before = abs($now);
            if ($growths >= self::GROWTHS || $before > self::MAX_HEIGHT) {
                $this->grew = $growths > 2;
                break;
            }
            if ($now >= 0) {
                self::pause(0.08);
                continue;
            }
            // At its end: more may come, once, or for ever.
            $this->rest(min($until, microtime(true) + 5.0));
            $grown = $this->evaluate('(document.scrollingElement || document.documentElement).scrollHeight');
            $grown = \is_int($grown) || \is_float($grown) ? (int) $grown : 0;
            if ($grown <= -$now + 8 || $grown <= $height + 8) {
                break;
            }
            $height = $grown;
        }
        $this->scrollInside($until);
        $this->grew = $this->grew || ($growths > 2 && microtime(true) >= $until);
        $this->evaluate('(document.scrollingElement || document.documentElement).scrollTo({top: 0, behavior: "instant"})');
        $this->rest(min($until, microtime(true) + 3.0));
    }

    /** Parts of a page that scroll by themselves, where they are large: each is gone through, too. */
    private function scrollInside(float $until): void
    {
        for ($step = 0; $step < 120 && microtime(true) < $until; ++$step) {
            $moved = $this->evaluate('(() => { let moved = false; for (const e of document.querySelectorAll("body *")) if (e.scrollHeight > e.clientHeight + 60 && e.clientHeight * e.clientWidth > innerHeight * innerWidth * 0.2 && /auto|scroll/.test(getComputedStyle(e).overflowY)) { const y = e.scrollTop; e.scrollBy({top: e.clientHeight * 0.8, behavior: "instant"}); if (e.scrollTop !== y) moved = true; } return moved; })()');
            if (true !== $moved) {
                if ($step > 0) {
                    $this->rest(min($until, microtime(true) + 3.0));
                    $this->evaluate('document.querySelectorAll("body *").forEach(e => { if (e.scrollTop > 0) e.scrollTo({top: 0, behavior: "instant"}); })');
                }

                return;
            }
            self::pause(0.08);
        }
    }

    /**
     * Where the page moves by itself, so that no two pictures of it are the same.
     *
     * @return list<array{int, int, int, int}> left, top, right, bottom, in pixels of the whole page
     */
    public function moving(): array
    {
        $found = $this->evaluate('JSON.stringify([...document.getAnimations().filter(a => a.playState === "running" && a.effect && a.effect.target).map(a => a.effect.target), ...document.querySelectorAll("video,marquee,img[src*=\\".gif\\"]")].slice(0, 200).map(e => { const b = e.getBoundingClientRect(); return [b.left + scrollX, b.top + scrollY, b.right + scrollX, b.bottom + scrollY].map(Math.round); }))');
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

    /** Waits until no request has been under way for a while, but not beyond that moment (Unix time). */
    public function rest(float $until): void
    {
        if (null === $this->gateway) {
            self::pause(max(0.0, min(self::QUIET_SECONDS, $until - microtime(true))));

            return;
        }
        $quietSince = $stalledSince = hrtime(true) / 1e9;
        while (microtime(true) < $until) {
            $now = hrtime(true) / 1e9;
            $last = $this->gateway->lastActivity();
            $stalledSince = max($stalledSince, $last);
            $quietSince = $this->gateway->open() > 0 ? $now : max($quietSince, $last);
            if ($now - $quietSince >= self::QUIET_SECONDS || (($this->loaded || $this->hangs()) && $now - $stalledSince >= self::STALLED_SECONDS)) {
                return;
            }
            self::pause(0.05);
        }
    }

    /** The address of the document that the browser ended up with, as the network answered it. */
    public function documentUrl(): ?string
    {
        return $this->documentUrl;
    }

    /** Whether the page went on growing each time its end was reached. */
    public function grew(): bool
    {
        return $this->grew;
    }

    /**
     * Every address that page, frames and workers asked for, fragments left out.
     *
     * @return array<string, string> what for, in the browser's words, by address
     */
    public function asked(): array
    {
        return $this->asked;
    }

    /**
     * @return array<string, int> status by address
     */
    public function answered(): array
    {
        return $this->answered;
    }

    /**
     * What lies over the page: the share of the window that layers above the text cover, and their words.
     *
     * @return array{share: float, text: string}
     */
    public function layers(): array
    {
        $found = $this->evaluate(<<<'JS'
            (() => {
              const layers = new Set(); let covered = 0;
              for (let x = 0; x < 7; x++) for (let y = 0; y < 7; y++) {
                let top = null;
                for (let e = document.elementFromPoint(innerWidth * (x + 0.5) / 7, innerHeight * (y + 0.5) / 7); e; e = e.parentElement || (e.getRootNode() instanceof ShadowRoot ? e.getRootNode().host : null)) {
                  const style = getComputedStyle(e);
                  if (style.position === "fixed" || (style.position === "absolute" && Number(style.zIndex) > 0) || e.matches("dialog[open]")) top = e;
                }
                if (top && top !== document.body && top !== document.documentElement) { layers.add(top); covered++; }
              }
              const words = e => [e.innerText || "", ...[...e.querySelectorAll("iframe")].map(f => f.title + " " + f.name + " " + f.src), ...[...e.querySelectorAll("*")].concat(e).map(i => i.shadowRoot ? [...i.shadowRoot.children].map(c => c.innerText || "").join(" ") : "")].join(" ");
              return JSON.stringify({share: covered / 49, text: [...layers].map(words).join(" ").slice(0, 20000)});
            })()
            JS);
        $data = self::map(['found' => \is_string($found) ? json_decode($found, true) : null], 'found');

        return ['share' => self::number($data, 'share'), 'text' => self::text($data, 'text')];
    }

    /** Pictures, films, drawings and frames that are large enough to be what a reader came for. */
    public function substance(): int
    {
        $found = $this->evaluate('[...document.querySelectorAll("img,video,audio,canvas,svg,iframe,frame,object,embed,picture")].filter(e => { const b = e.getBoundingClientRect(); return b.width * b.height > 10000 && (!(e instanceof HTMLImageElement) || e.naturalWidth > 40); }).length + (document.querySelector("audio") ? 1 : 0)');

        return \is_int($found) ? $found : 0;
    }

    /**
     * Films and sounds that are put together by scripts, or come live.
     *
     * @return list<string> made-up addresses
     */
    public function streams(): array
    {
        $found = $this->evaluate('JSON.stringify([...document.querySelectorAll("video,audio")].filter(m => m.srcObject || /^(?:blob|mediastream):/.test(m.currentSrc || m.src)).map(m => m.currentSrc || m.src || "mediastream:").slice(0, 50))');
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
        foreach ([$this->session, ...array_keys($this->frameSessions)] as $session) {
            try {
                $tree = $this->browser->call('Page.getFrameTree', [], $session, 5.0);
            } catch (BrowserFailed) {
                continue;
            }
            $this->inTree(self::map($tree, 'frameTree'), $session, $session === $this->session, $found);
        }

        return \array_slice($found, 0, self::MAX_FRAMES);
    }

    /**
     * @param array<string, mixed>                                     $tree
     * @param list<array{url: string, session: string, frame: string}> $found
     */
    private function inTree(array $tree, string $session, bool $isMain, array &$found): void
    {
        $frame = self::map($tree, 'frame');
        $url = self::text($frame, 'url');
        if (!$isMain) {
            $found[] = ['url' => $url, 'session' => $session, 'frame' => self::text($frame, 'id')];
        }
        foreach (\is_array($tree['childFrames'] ?? null) ? $tree['childFrames'] : [] as $child) {
            if (\is_array($child) && \count($found) < self::MAX_FRAMES) {
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
        return $this->save($path, <<<'JS'
            (() => {
              const shown = [], inner = [...document.querySelectorAll("iframe")].filter(f => { try { return f.contentDocument && f.contentDocument.documentElement && /^about:/.test(f.contentDocument.URL) && (f.contentDocument.body || {}).innerHTML; } catch (e) { return false; } });
              inner.forEach((f, n) => { shown[n] = f.contentDocument.documentElement.outerHTML; f.setAttribute("data-ypomna-frame", n); });
              const put = html => inner.length === 0 ? html : html.replace(/<iframe(?:\s+[^\s=>]+(?:="[^"]*")?)*\s*>/gi, tag => {
                const n = (tag.match(/ data-ypomna-frame="(\d+)"/) || [])[1];
                return n === undefined ? tag : tag.replace(/ data-ypomna-frame="\d+"/, "").replace(/ srcdoc="[^"]*"/, "").replace(/^<iframe/i, '<iframe srcdoc="' + shown[n].replace(/&/g, "&amp;").replace(/"/g, "&quot;") + '"');
              });
              try { return put((() => {
              const type = document.doctype ? new XMLSerializer().serializeToString(document.doctype) + "\n" : "";
              const root = document.documentElement;
              const roots = [];
              const walk = node => { for (const e of node.querySelectorAll("*")) { const s = e.shadowRoot; if (s) { roots.push(s); walk(s); } } };
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
        return $this->save($path, self::TEXT, $frame);
    }

    /** The text of page and frames as it is now, white space folded. */
    public function textNow(): string
    {
        $text = $this->evaluate('('.self::TEXT.').slice(0, 4000000)');

        return \is_string($text) ? trim((string) preg_replace('/\s+/u', ' ', mb_scrub($text))) : '';
    }

    /** What the page calls itself, cut to a bearable length. */
    public function title(): string
    {
        $title = $this->evaluate('document.title.slice(0, 1000)');

        return \is_string($title) ? trim($title) : '';
    }

    /**
     * The whole page as pictures of at most three million pixels, from the top on.
     *
     * @param \Closure(int): string $pathOf path of the file for each tile
     *
     * @return list<string> the files that were written
     */
    public function savePictures(\Closure $pathOf): array
    {
        $metrics = $this->call('Page.getLayoutMetrics');
        $size = self::map($metrics, 'cssContentSize');
        $height = (int) min(self::MAX_HEIGHT, max($this->height, self::number($size, 'height')));
        $width = (int) min(4_000, max($this->width, self::number($size, 'width')));
        $tile = intdiv(self::TILE_PIXELS, $width);
        $paths = [];
        for ($top = 0; $top < $height; $top += $tile) {
            $clip = ['x' => 0, 'y' => $top, 'width' => $width, 'height' => min($tile, $height - $top), 'scale' => 1];
            $shot = $this->call('Page.captureScreenshot', ['format' => 'png', 'captureBeyondViewport' => true, 'clip' => $clip], 60.0);
            $path = $pathOf(\count($paths));
            if (false === @file_put_contents($path, base64_decode(self::text($shot, 'data'), true))) {
                throw new BrowserFailed('The page picture cannot be written.');
            }
            $paths[] = $path;
        }

        return $paths;
    }

    /** The moment that the browser's version names, for the record. */
    public function version(): string
    {
        return self::text($this->browser->call('Browser.getVersion'), 'product');
    }

    /** What the browser calls itself when it asks. */
    public function agent(): string
    {
        return self::text($this->browser->call('Browser.getVersion'), 'userAgent');
    }

    /** Where the page is now. */
    public function url(): string
    {
        $url = $this->evaluate('document.baseURI && location.href');

        return \is_string($url) ? $url : '';
    }

    /**
     * @param array<string, mixed> $parameters
     */
    private function heard(string $method, array $parameters, string $session): void
    {
        if (('Inspector.targetCrashed' === $method && $session === $this->session) || ('Target.targetCrashed' === $method && self::text($parameters, 'targetId') === $this->target)) {
            $this->crashed = true;
        }
        if ('Page.loadEventFired' === $method && $session === $this->session) {
            $this->loaded = true;
        }
        if ('Network.requestWillBeSent' === $method && \count($this->asked) < self::MAX_HEARD) {
            $this->asked[explode('#', self::text(self::map($parameters, 'request'), 'url'))[0]] ??= self::text($parameters, 'type');
        }
        if ('Network.webSocketCreated' === $method && \count($this->asked) < self::MAX_HEARD) {
            $this->asked[(string) preg_replace('/^ws/', 'http', explode('#', self::text($parameters, 'url'))[0])] = 'WebSocket';
        }
        if ('Network.responseReceived' === $method && \count($this->answered) < self::MAX_HEARD) {
            $this->answered[explode('#', self::text(self::map($parameters, 'response'), 'url'))[0]] = (int) self::number(self::map($parameters, 'response'), 'status');
        }
        if ('Network.responseReceived' === $method && 'Document' === ($parameters['type'] ?? null) && ($parameters['frameId'] ?? null) === $this->frame) {
            $this->documentUrl = self::text(self::map($parameters, 'response'), 'url');
        }
        // A dialog would hold the page up for ever; a window of its own is not part of the page.
        if ('Page.javascriptDialogOpening' === $method) {
            EventLoop::queue(fn () => $this->quietly('Page.handleJavaScriptDialog', ['accept' => false], $session));
        }
        if ('Target.attachedToTarget' === $method && ('' !== $session || \in_array(self::text(self::map($parameters, 'targetInfo'), 'type'), ['service_worker', 'shared_worker'], true))) {
            $child = self::text($parameters, 'sessionId');
            $info = self::map($parameters, 'targetInfo');
            EventLoop::queue(function () use ($child, $info): void {
                if ('page' === self::text($info, 'type')) {
                    $this->quietly('Target.closeTarget', ['targetId' => self::text($info, 'targetId')]);

                    return;
                }
                if ('iframe' === self::text($info, 'type') && \count($this->frameSessions) < self::MAX_FRAMES) {
                    $this->frameSessions[$child] = true;
                }
                // One behind the other, without waiting: some workers answer only when they run.
                foreach ([['Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0]], ['Network.setExtraHTTPHeaders', ['headers' => $this->fields()]], ['Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]], ['Runtime.runIfWaitingForDebugger', []]] as [$command, $with]) {
                    EventLoop::queue(fn () => $this->quietly($command, $with, $child));
                }
            });
        }
    }

    /**
     * @param array<string, mixed> $parameters
     */
    private function quietly(string $method, array $parameters, ?string $session = null): void
    {
        try {
            $this->browser->call($method, $parameters, $session, 5.0);
        } catch (BrowserFailed) {
            // The target went away in the meantime, or has no such domain.
        }
    }

    /**
     * @param array{url: string, session: string, frame: string}|null $frame
     */
    private function save(string $path, string $expression, ?array $frame = null): int
    {
        $session = $frame['session'] ?? $this->session;
        $world = (int) self::number($this->browser->call('Page.createIsolatedWorld', ['frameId' => $frame['frame'] ?? $this->frame, 'worldName' => 'reader'], $session), 'executionContextId');
        $length = $this->run('(globalThis.kept = String('.$expression.')).length', $world, $session);
        $file = @fopen($path, 'w');
        if (false === $file) {
            throw new BrowserFailed('The page cannot be written down.');
        }
        try {
            $bytes = 0;
            for ($at = 0; $at < min(\is_int($length) ? $length : 0, self::MAX_TEXT); $at += self::SLICE) {
                // A slice may not begin or end within a surrogate pair; toWellFormed marks one that does.
                $slice = $this->run(\sprintf('((s, a, b) => { const low = i => i > 0 && /[\udc00-\udfff]/.test(s.charAt(i)) ? i + 1 : i; return s.slice(low(a), low(b)).toWellFormed(); })(kept, %d, %d)', $at, $at + self::SLICE), $world, $session);
                $slice = \is_string($slice) ? $slice : '';
                if (@fwrite($file, $slice) !== \strlen($slice)) {
                    throw new BrowserFailed('The disk took no more while the page was being written down.');
                }
                $bytes += \strlen($slice);
            }

            return $bytes;
        } finally {
            fclose($file);
        }
    }

    private function evaluate(string $expression): mixed
    {
        try {
            return $this->run($expression, $this->world());
        } catch (BrowserFailed $e) {
            if ($this->ended || $this->crashed) {
                throw $e;
            }
            // A script that never comes to its end is ended, once; the page is read as it stands then.
            $this->ended = true;
            $this->browser->call('Runtime.terminateExecution', [], $this->session, 5.0);

            return $this->run($expression, $this->world());
        }
    }

    private function world(): int
    {
        if ($this->crashed) {
            throw new BrowserFailed('The page broke its process down: it wanted too much memory, or hit a fault of the browser.');
        }
        $world = $this->call('Page.createIsolatedWorld', ['frameId' => $this->frame, 'worldName' => 'reader'], self::ANSWER_SECONDS);

        return (int) self::number($world, 'executionContextId');
    }

    private function run(string $expression, int $world, ?string $session = null): mixed
    {
        if ($this->crashed) {
            throw new BrowserFailed('The page broke its process down: it wanted too much memory, or hit a fault of the browser.');
        }
        $answer = $this->browser->call('Runtime.evaluate', ['expression' => $expression, 'contextId' => $world, 'returnByValue' => true, 'timeout' => 20_000], $session ?? $this->session, self::ANSWER_SECONDS + 20.0);

        return self::map($answer, 'result')['value'] ?? null;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     */
    private function call(string $method, array $parameters = [], float $seconds = 30.0): array
    {
        return $this->browser->call($method, $parameters, $this->session, $seconds);
    }

    private static function pause(float $seconds): void
    {
        $suspension = EventLoop::getSuspension();
        EventLoop::delay($seconds, static fn () => $suspension->resume());
        $suspension->suspend();
    }

    /**
     * @param array<string, mixed> $from
     *
     * @return array<string, mixed>
     */
    private static function map(array $from, string $name): array
    {
        /** @var array<string, mixed> $map */
        $map = \is_array($from[$name] ?? null) ? $from[$name] : [];

        return $map;
    }

    /**
     * @param array<string, mixed> $from
     */
    private static function text(array $from, string $name): string
    {
        return \is_string($from[$name] ?? null) ? $from[$name] : '';
    }

    /**
     * @param array<string, mixed> $from
     */
    private static function number(array $from, string $name): float
    {
        return is_numeric($from[$name] ?? null) ? (float) $from[$name] : 0.0;
    }
}
