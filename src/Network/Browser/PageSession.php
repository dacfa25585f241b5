<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Revolt\EventLoop;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\Core\Fetch\Gateway;

/**
 * One page in the browser: opened, scrolled through, and read out. What is evaluated runs in a world of its own that
 * the page's scripts can neither see nor change.
 */
final class PageSession
{
    public const MAX_FRAMES = 60;
    /** A page that asks on and on is never at rest. */
    public const LONGEST_REST = 20.0;
    private const WIDTH = 1280;
    private const HEIGHT = 800;
    /** No network for so long: the page is at rest. */
    private const QUIET_SECONDS = 0.6;
    private const SLICE = 1_048_576;
    private const MAX_TEXT = 33_554_432;
    /** No byte for so long, though answers are owed: what is awaited is not part of the page's coming about. */
    private const STALLED_SECONDS = 10.0;
    private const HANGING_SECONDS = 15.0;
    /** A script that runs for longer at a stretch is ended. */
    private const ANSWER_SECONDS = 12.0;
    private const MAX_HEARD = 20_000;

    private string $session = '';
    private string $frame = '';
    private bool $loaded = false;
    private ?string $documentUrl = null;
    private bool $ended = false;
    private bool $crashed = false;
    private string $target = '';
    /** @var array<string, string> what every address was asked for as that the page, its frames and workers asked for */
    private array $asked = [];
    /** @var array<string, int> status by address, of what was answered */
    private array $answered = [];
    /** @var array<string, true> sessions of frames that live in processes of their own */
    private array $frameSessions = [];
    /** Waits for what is due; null where the page is only looked at again. */
    private ?PageRest $rest = null;
    /** Whether the page was read though more was to come. */
    private bool $cutShort = false;

    /**
     * @param Gateway|null $gateway tells when the network is at rest; null where there is none to speak of
     * @param int $width of the window, in pixels
     * @param CaptureOptions|null $options how it is to be seen
     */
    public function __construct(
        private readonly Chromium $browser,
        private readonly ?Gateway $gateway,
        public readonly int $width = self::WIDTH,
        public readonly int $height = self::HEIGHT,
        private readonly ?CaptureOptions $options = null,
    ) {
    }

    /**
     * @throws BrowserFailed
     */
    public function open(): void
    {
        $this->browser->listen($this->heard(...));
        $this->target = $this->browser->newPage();
        $attached = $this->browser->call('Target.attachToTarget', ['targetId' => $this->target, 'flatten' => true]);
        $this->session = self::text($attached, 'sessionId');
        $this->call('Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]);
        // Workers that belong to no single page report by themselves.
        $this->browser->call(
            'Target.setAutoAttach',
            [
                'autoAttach' => true,
                'waitForDebuggerOnStart' => true,
                'flatten' => true,
                'filter' => [['type' => 'service_worker'], ['type' => 'shared_worker']],
            ],
        );
        $this->call('Page.enable');
        $this->call('Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0]);
        $this->call('Network.setExtraHTTPHeaders', ['headers' => $this->fields()]);
        $this->present();
        $this->call(
            'Emulation.setDeviceMetricsOverride',
            ['width' => $this->width, 'height' => $this->height, 'deviceScaleFactor' => 1, 'mobile' => true === $this->options?->phone],
        );
        if (false === $this->options?->scripts) {
            $this->call('Emulation.setScriptExecutionDisabled', ['value' => true]);
        } elseif (null !== $this->gateway) {
            $this->rest = new PageRest($this);
            $this->call('Page.addScriptToEvaluateOnNewDocument', ['source' => $this->rest->script()]);
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
        return ['Accept-Encoding' => 'gzip'];
    }

    /** As whom the browser asks. */
    private function present(): void
    {
        $own = $this->agent();
        $agent = $this->options?->userAgent($own);
        if (null !== $agent || null !== $this->options?->language) {
            $this->call(
                'Emulation.setUserAgentOverride',
                ['userAgent' => $agent
                    ?? $own] + (null === $this->options?->language ? [] : ['acceptLanguage' => $this->options->language]),
            );
        }
        if (true === $this->options?->phone) {
            $this->call('Emulation.setTouchEmulationEnabled', ['enabled' => true]);
        }
        foreach ($this->options->cookies ?? [] as $cookie) {
            $this->call(
                'Network.setCookie',
                [
                    'name' => $cookie->name, 'value' => $cookie->value, 'domain' => ($cookie->forAll ? '.' : '').$cookie->domain,
                    'path' => $cookie->path, 'secure' => $cookie->secure,
                ] + ($cookie->forAll ? [] : ['url' => ($cookie->secure ? 'https://' : 'http://').$cookie->domain.$cookie->path]),
            );
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
        try {
            $error = self::text($this->call('Page.navigate', ['url' => $url], $seconds), 'errorText');
        } catch (BrowserFailed $e) {
            // A server that says nothing keeps the browser from saying anything; one that is gone said so itself.
            if ($this->crashed || null === $this->gateway || 0 === $this->gateway->open()) {
                throw $e;
            }
            $error = 'net::ERR_TIMED_OUT';
        }
        if ('' !== $error) {
            return $error;
        }
        $until = microtime(true) + $seconds;
        while (!$this->loaded && !$this->crashed && microtime(true) < $until && !$this->hangs()) {
            self::pause(0.05);
        }
        $this->awaitRest($until);
        $this->showSkipped();

        return null;
    }

    /**
     * Browsers leave out what `content-visibility: auto` lets them leave out while it is off screen: it has no text then, and its place
     * grows when it is come to (CSS Containment 2, section 4). An animation that stands still shows it, and leaves no trace in the markup.
     */
    public function showSkipped(): void
    {
        try {
            $this->evaluate('(() => { const all = root => { for (const e of [...root.querySelectorAll("*")].slice(0, 30000)) { '
                .'if (getComputedStyle(e).contentVisibility === "auto") e.animate([{contentVisibility: "visible"}, {contentVisibility:'
                    .' "visible"}], {duration: 1e9, fill: "both"}); '
                .'if (e.shadowRoot) all(e.shadowRoot); } }; all(document); return true; })()');
        } catch (BrowserFailed $e) {
            if ($this->crashed) {
                throw $e;
            }
            // A page that computes is read as far as it can be.
        }
    }

    /** Waits until nothing is due any more, or notes that it was not waited for. */
    public function awaitRest(float $until): void
    {
        if (null === $this->rest) {
            $this->rest(min($until, microtime(true) + self::LONGEST_REST));
        } else {
            $this->cutShort = !$this->rest->await($until) || $this->cutShort;
        }
    }

    /** Whether something was still due, or a script still computed, when the page was read. */
    public function isCutShort(): bool
    {
        return $this->cutShort || $this->ended;
    }

    public function isBroken(): bool
    {
        return $this->crashed;
    }

    /**
     * Evaluates in a world of its own, and ends nothing where no answer comes.
     *
     * @param array{url: string, session: string, frame: string}|null $frame
     *
     * @throws BrowserFailed
     */
    public function glance(string $expression, ?array $frame, float $seconds): mixed
    {
        $session = $frame['session'] ?? $this->session;
        $world = $this->browser->call(
            'Page.createIsolatedWorld', ['frameId' => $frame['frame'] ?? $this->frame, 'worldName' => 'reader'], $session, $seconds,
        );
        $answer = $this->browser->call(
            'Runtime.evaluate',
            ['expression' => $expression, 'contextId' => (int) self::number($world, 'executionContextId'), 'returnByValue' => true],
            $session,
            $seconds,
        );

        return self::map($answer, 'result')['value'] ?? null;
    }

    /** The document is there, but something that it waits for has been silent for long. */
    private function hangs(): bool
    {
        return null !== $this->documentUrl && null !== $this->gateway
            && hrtime(true) / 1e9 - $this->gateway->lastActivity() > self::HANGING_SECONDS;
    }

    /**
     * Waits until no request has been under way for a while, but not beyond that moment (Unix time).
     *
     * @param float $quiet for how long there must be none, in seconds
     */
    public function rest(float $until, float $quiet = self::QUIET_SECONDS): void
    {
        if (null === $this->gateway) {
            self::pause(max(0.0, min($quiet, $until - microtime(true))));

            return;
        }
        $quietSince = $stalledSince = hrtime(true) / 1e9;
        while (microtime(true) < $until) {
            $now = hrtime(true) / 1e9;
            $last = $this->gateway->lastActivity();
            $stalledSince = max($stalledSince, $last);
            $quietSince = $this->gateway->open() > 0 ? $now : max($quietSince, $last);
            if ($now - $quietSince >= $quiet || (($this->loaded || $this->hangs()) && $now - $stalledSince >= self::STALLED_SECONDS)) {
                return;
            }
            self::pause(0.05);
        }
    }

    /** When the last byte passed, by a steady clock, in seconds. */
    public function lastActivity(): float
    {
        return $this->gateway?->lastActivity() ?? 0.0;
    }

    /** The address of the document that the browser ended up with, as the network answered it. */
    public function documentUrl(): ?string
    {
        return $this->documentUrl;
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

    /**
     * @param array<string, mixed> $parameters
     */
    private function heard(string $method, array $parameters, string $session): void
    {
        if (('Inspector.targetCrashed' === $method && $session === $this->session)
            || ('Target.targetCrashed' === $method && self::text($parameters, 'targetId') === $this->target)) {
            $this->crashed = true;
        }
        if ('Page.loadEventFired' === $method && $session === $this->session) {
            $this->loaded = true;
        }
        if ('Network.requestWillBeSent' === $method && \count($this->asked) < self::MAX_HEARD) {
            $this->asked[explode('#', self::text(self::map($parameters, 'request'), 'url'))[0]] ??= self::text($parameters, 'type');
        }
        if ('Network.webSocketCreated' === $method && \count($this->asked) < self::MAX_HEARD) {
            $this->asked[explode('#', self::text($parameters, 'url'))[0]] = 'WebSocket';
        }
        if ('Network.responseReceived' === $method && \count($this->answered) < self::MAX_HEARD) {
            $this->answered[explode('#', self::text(self::map($parameters, 'response'), 'url'))[0]] = (int) self::number(
                self::map($parameters, 'response'), 'status',
            );
        }
        if ('Network.responseReceived' === $method && 'Document' === ($parameters['type'] ?? null)
            && ($parameters['frameId'] ?? null) === $this->frame) {
            $this->documentUrl = self::text(self::map($parameters, 'response'), 'url');
        }
        // A dialog would hold the page up for ever; a window of its own is not part of the page.
        if ('Page.javascriptDialogOpening' === $method) {
            EventLoop::queue(fn () => $this->quietly('Page.handleJavaScriptDialog', ['accept' => false], $session));
        }
        if ('Target.attachedToTarget' === $method
            && ('' !== $session
                || \in_array(self::text(self::map($parameters, 'targetInfo'), 'type'), ['service_worker', 'shared_worker'], true))) {
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
                $stir = null === $this->rest || 'iframe' !== self::text($info, 'type')
                    ? []
                    : [
                        ['Page.enable', []],
                        ['Page.addScriptToEvaluateOnNewDocument', ['source' => $this->rest->script(), 'runImmediately' => true]],
                    ];
                foreach ([
                    ...$stir,
                    ['Network.enable', ['maxTotalBufferSize' => 0, 'maxResourceBufferSize' => 0]],
                    ['Network.setExtraHTTPHeaders', ['headers' => $this->fields()]],
                    ['Target.setAutoAttach', ['autoAttach' => true, 'waitForDebuggerOnStart' => true, 'flatten' => true]],
                    ['Runtime.runIfWaitingForDebugger', []],
                ] as [$command, $with]) {
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
    public function save(string $path, string $expression, ?array $frame = null): int
    {
        $session = $frame['session'] ?? $this->session;
        $world = (int) self::number(
            $this->browser->call(
                'Page.createIsolatedWorld', ['frameId' => $frame['frame'] ?? $this->frame, 'worldName' => 'reader'], $session,
            ),
            'executionContextId',
        );
        $length = $this->run('(globalThis.kept = String('.$expression.')).length', $world, $session);
        $file = @fopen($path, 'w');
        if (false === $file) {
            throw new BrowserFailed('The page cannot be written down.');
        }
        try {
            $bytes = 0;
            for ($at = 0; $at < min(\is_int($length) ? $length : 0, self::MAX_TEXT); $at += self::SLICE) {
                // A slice may not begin or end within a surrogate pair; toWellFormed marks one that does.
                $slice = $this->run(
                    \sprintf(
                        '((s, a, b) => { const low = i => i > 0 && /[\udc00-\udfff]/.test(s.charAt(i)) ? i + 1 : i; return'
                            .' s.slice(low(a), low(b)).toWellFormed(); })(kept, %d, %d)',
                        $at,
                        $at + self::SLICE,
                    ),
                    $world,
                    $session,
                );
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

    /**
     * The page's own session, and those of frames that live in processes of their own.
     *
     * @return non-empty-list<string>
     */
    public function sessions(): array
    {
        return [$this->session, ...array_keys($this->frameSessions)];
    }

    /**
     * @return array<string, mixed>
     */
    public function inSession(string $method, string $session): array
    {
        return $this->browser->call($method, [], $session, 5.0);
    }

    /** Evaluates in a world of its own, which the page's scripts can neither see nor change. */
    public function evaluate(string $expression): mixed
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
        $answer = $this->browser->call(
            'Runtime.evaluate',
            ['expression' => $expression, 'contextId' => $world, 'returnByValue' => true, 'timeout' => 20_000],
            $session ?? $this->session,
            self::ANSWER_SECONDS + 20.0,
        );

        return self::map($answer, 'result')['value'] ?? null;
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     */
    public function call(string $method, array $parameters = [], float $seconds = 30.0): array
    {
        return $this->browser->call($method, $parameters, $this->session, $seconds);
    }

    public static function pause(float $seconds): void
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
    public static function map(array $from, string $name): array
    {
        /** @var array<string, mixed> $map */
        $map = \is_array($from[$name] ?? null) ? $from[$name] : [];

        return $map;
    }

    /**
     * @param array<string, mixed> $from
     */
    public static function text(array $from, string $name): string
    {
        return \is_string($from[$name] ?? null) ? $from[$name] : '';
    }

    /**
     * @param array<string, mixed> $from
     */
    public static function number(array $from, string $name): float
    {
        return is_numeric($from[$name] ?? null) ? (float) $from[$name] : 0.0;
    }
}
