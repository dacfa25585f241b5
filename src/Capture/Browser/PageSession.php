<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Browser;

use Revolt\EventLoop;
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

    private string $session = '';
    private string $frame = '';
    private bool $loaded = false;
    private ?string $documentUrl = null;

    public function __construct(private readonly Chromium $browser, private readonly Gateway $gateway)
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
        $attached = $this->browser->call('Target.attachToTarget', ['targetId' => $target['targetId'] ?? '', 'flatten' => true]);
        $this->session = self::text($attached, 'sessionId');
        $this->call('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]);
        $this->call('Page.enable');
        $this->call('Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0]);
        // Only codings that any reader can undo later; the servers' answers are kept as they come.
        $this->call('Network.setExtraHTTPHeaders', ['headers' => ['Accept-Encoding' => 'gzip']]);
        $this->call('Emulation.setDeviceMetricsOverride', ['width' => self::WIDTH, 'height' => self::HEIGHT, 'deviceScaleFactor' => 1, 'mobile' => false]);
        $tree = $this->call('Page.getFrameTree');
        $this->frame = self::text(self::map(self::map($tree, 'frameTree'), 'frame'), 'id');
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
        while (!$this->loaded && microtime(true) < $until) {
            self::pause(0.05);
        }
        $this->rest($until);

        return null;
    }

    /** Scrolls to the bottom in steps, as a reader does, so that what loads on sight is loaded; then back to the top. */
    public function scrollThrough(float $seconds): void
    {
        $until = microtime(true) + $seconds;
        for ($step = 0; $step < 200 && microtime(true) < $until; ++$step) {
            $atEnd = $this->evaluate('(() => { const e = document.scrollingElement || document.documentElement; const y = e.scrollTop; e.scrollBy({top: innerHeight * 0.8, behavior: "instant"}); return e.scrollTop === y; })()');
            if (true === $atEnd) {
                break;
            }
            self::pause(0.08);
        }
        $this->rest($until);
        $this->evaluate('(document.scrollingElement || document.documentElement).scrollTo({top: 0, behavior: "instant"})');
        $this->rest(min($until, microtime(true) + 3.0));
    }

    /** Waits until no request has been under way for a while, but not beyond that moment (Unix time). */
    public function rest(float $until): void
    {
        $quietSince = microtime(true);
        while (microtime(true) < $until) {
            if ($this->gateway->open() > 0 || $this->gateway->lastActivity() > $quietSince) {
                $quietSince = microtime(true);
            }
            if (microtime(true) - $quietSince >= self::QUIET_SECONDS) {
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

    /** The document after scripts, shadow roots included. Writes it to a file and gives its length in bytes. */
    public function saveDom(string $path): int
    {
        return $this->save($path, <<<'JS'
            (() => {
              const type = document.doctype ? new XMLSerializer().serializeToString(document.doctype) + "\n" : "";
              const root = document.documentElement;
              const roots = [];
              const walk = node => { for (const e of node.querySelectorAll("*")) { const s = e.shadowRoot; if (s) { roots.push(s); walk(s); } } };
              if (!root) return "";
              walk(document);
              if (!root.getHTML) return type + root.outerHTML;
              const open = root.outerHTML.match(/^<[^>]*>/);
              return type + (open ? open[0] : "<html>") + root.getHTML({serializableShadowRoots: true, shadowRoots: roots}) + "</html>";
            })()
            JS);
    }

    /** The text that a reader sees. Writes it to a file and gives its length in bytes. */
    public function saveText(string $path): int
    {
        return $this->save($path, 'document.body ? document.body.innerText : (document.documentElement ? document.documentElement.textContent : "")');
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
        $height = (int) min(self::MAX_HEIGHT, max(self::HEIGHT, self::number($size, 'height')));
        $width = (int) min(4_000, max(self::WIDTH, self::number($size, 'width')));
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

    /**
     * Addresses of video and audio files that the page refers to.
     *
     * @return list<string>
     */
    public function media(): array
    {
        $found = $this->evaluate('JSON.stringify([...document.querySelectorAll("video[src],audio[src],video source[src],audio source[src]")].map(e => e.src).filter(u => /^https?:/.test(u)).slice(0, 50))');
        $list = \is_string($found) ? json_decode($found, true) : [];

        return array_values(array_filter(\is_array($list) ? $list : [], '\is_string'));
    }

    /**
     * @param array<string, mixed> $parameters
     */
    private function heard(string $method, array $parameters, string $session): void
    {
        if ('Page.loadEventFired' === $method && $session === $this->session) {
            $this->loaded = true;
        }
        if ('Network.responseReceived' === $method && 'Document' === ($parameters['type'] ?? null) && ($parameters['frameId'] ?? null) === $this->frame) {
            $this->documentUrl = self::text(self::map($parameters, 'response'), 'url');
        }
        // A dialog would hold the page up for ever; a window of its own is not part of the page.
        if ('Page.javascriptDialogOpening' === $method) {
            EventLoop::queue(fn () => $this->quietly('Page.handleJavaScriptDialog', ['accept' => false], $session));
        }
        if ('Target.attachedToTarget' === $method && '' !== $session) {
            $child = self::text($parameters, 'sessionId');
            $info = self::map($parameters, 'targetInfo');
            EventLoop::queue(function () use ($child, $info): void {
                if ('page' === self::text($info, 'type')) {
                    $this->quietly('Target.closeTarget', ['targetId' => self::text($info, 'targetId')]);

                    return;
                }
                $this->quietly('Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0], $child);
                $this->quietly('Network.setExtraHTTPHeaders', ['headers' => ['Accept-Encoding' => 'gzip']], $child);
                $this->quietly('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true], $child);
                $this->quietly('Runtime.runIfWaitingForDebugger', [], $child);
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

    private function save(string $path, string $expression): int
    {
        $world = $this->world();
        $length = $this->run('(globalThis.kept = String('.$expression.')).length', $world);
        $file = @fopen($path, 'w');
        if (false === $file) {
            throw new BrowserFailed('The page cannot be written down.');
        }
        try {
            $bytes = 0;
            for ($at = 0; $at < min(\is_int($length) ? $length : 0, self::MAX_TEXT); $at += self::SLICE) {
                // A slice may not begin or end within a surrogate pair; toWellFormed marks one that does.
                $slice = $this->run(\sprintf('((s, a, b) => { const low = i => i > 0 && /[\udc00-\udfff]/.test(s.charAt(i)) ? i + 1 : i; return s.slice(low(a), low(b)).toWellFormed(); })(kept, %d, %d)', $at, $at + self::SLICE), $world);
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
        return $this->run($expression, $this->world());
    }

    private function world(): int
    {
        $world = $this->call('Page.createIsolatedWorld', ['frameId' => $this->frame, 'worldName' => 'reader']);

        return (int) self::number($world, 'executionContextId');
    }

    private function run(string $expression, int $world): mixed
    {
        $answer = $this->call('Runtime.evaluate', ['expression' => $expression, 'contextId' => $world, 'returnByValue' => true, 'timeout' => 20_000]);

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
