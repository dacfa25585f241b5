<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Revolt\EventLoop;
use Symfony\Component\Filesystem\Filesystem;

/**
 * A headless Chromium of its own for one capture, spoken to over a pair of pipes. Its profile is made new and removed afterwards.
 */
final class Chromium
{
    private const CACHE_BYTES = 33_554_432;
    /** Of the scripts of one page. */
    private const HEAP_MEGABYTES = 1_024;
    private const GUARD_SECONDS = 0.7;
    /** A page that does not let itself be closed by then is ended with the browser. */
    private const CLOSE_SECONDS = 3.0;
    private const SCOPES = 100;

    private readonly string $guard;
    private ?float $deadline = null;
    /** What is opened belongs to it; null is the browser's first. */
    private ?string $context = null;
    /** A blank page that waits to be opened. */
    private ?string $blank = null;
    /** @var \WeakMap<self, true>|null those that run */
    private static ?\WeakMap $running = null;

    /** @param resource $process */
    private function __construct(
        private $process,
        private readonly BrowserPipe $pipe,
        private readonly BrowserUser $user,
        private readonly BrowserLoad $load,
    ) {
        self::$running ??= new \WeakMap();
        self::$running[$this] = true;
        $this->guard = EventLoop::repeat(self::GUARD_SECONDS, $this->measure(...));
        EventLoop::unreference($this->guard);
    }

    /**
     * @param string $folder an empty folder of this capture's own
     * @param int|BrowserCell $where the port to which every connection of the browser goes, or the cell in which it lives
     *
     * @throws BrowserFailed
     */
    public static function start(string $binary, string $folder, int|BrowserCell $where, bool $mustSandbox = false): self
    {
        if (!is_executable($binary)) {
            throw new BrowserFailed(\sprintf('There is no browser at “%s”.', $binary));
        }
        $user = BrowserUser::of($folder);
        $arguments = [
            $binary, '--headless', '--remote-debugging-pipe', '--disable-gpu', '--disable-quic', '--no-first-run',
            '--no-default-browser-check',
            '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-extensions',
            '--disable-default-apps',
            '--disable-breakpad', '--disable-dev-shm-usage', '--mute-audio', '--hide-scrollbars', '--no-pings',
            '--disable-client-side-phishing-detection',
            '--disable-domain-reliability', '--metrics-recording-only', '--password-store=basic', '--use-mock-keychain',
            '--disable-features=Translate,OptimizationHints,MediaRouter,DialMediaRouteProvider,AutofillServerCommunication'
                .',HttpsUpgrades,HttpsFirstBalancedModeAutoEnable,IsolateSandboxedIframes',
            '--force-webrtc-ip-handling-policy', '--webrtc-ip-handling-policy=disable_non_proxied_udp',
            '--disable-search-engine-choice-screen',
            '--host-resolver-rules=MAP * 127.0.0.1:'.(\is_int($where) ? $where : '@PORT@'), '--ignore-certificate-errors',
            '--user-data-dir='.$user->home.'/profile', '--disk-cache-size='.self::CACHE_BYTES, '--media-cache-size='.self::CACHE_BYTES,
            '--js-flags=--max-old-space-size='.self::HEAP_MEGABYTES, '--window-size=1280,800', 'about:blank',
        ];
        if (!$user->canSandbox()) {
            if ($mustSandbox) {
                throw new BrowserFailed(
                    'This machine does not let the browser shut itself in (user namespaces are switched off), and it is not started'
                        .' without that.',
                );
            }
            array_splice($arguments, 1, 0, '--no-sandbox');
        }
        $arguments = [...($where instanceof BrowserCell ? $where->command() : []), ...$user->command, ...$arguments];
        // The browser makes a socket in its temporary folder, whose path has to stay below 108 bytes.
        $environment = [
            'HOME' => $user->home,
            'TMPDIR' => \strlen($user->home) > 60 ? sys_get_temp_dir() : $user->home,
            'PATH' => '/usr/local/bin:/usr/bin:/bin',
            'LANG' => 'C.UTF-8',
            'TZ' => 'UTC',
        ];
        $process = @proc_open(
            $arguments,
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', $folder.'/browser.log', 'w'], ['pipe', 'r'], ['pipe', 'w']],
            $pipes,
            $user->home,
            $environment,
        );
        if (false === $process) {
            throw new BrowserFailed('The browser could not be started.');
        }

        return new self(
            $process, new BrowserPipe($pipes[3], $pipes[4]), $user, new BrowserLoad(proc_get_status($process)['pid'], $user->home),
        );
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, mixed>
     *
     * @throws BrowserFailed
     */
    public function call(string $method, array $parameters = [], ?string $session = null, float $seconds = 30.0): array
    {
        return $this->pipe->call($method, $parameters, $session, $seconds);
    }

    /**
     * @param \Closure(string, array<string, mixed>, string): void $listener given method, parameters, session of each event
     */
    public function listen(\Closure $listener): void
    {
        $this->pipe->listen($listener);
    }

    /**
     * A blank page in the present context.
     *
     * @return string its target
     *
     * @throws BrowserFailed
     */
    public function newPage(): string
    {
        [$page, $this->blank] = [$this->blank, null];
        $own = null === $this->context ? [] : ['browserContextId' => $this->context];
        if (null === $page) {
            $said = $this->call('Target.createTarget', ['url' => 'about:blank'] + $own)['targetId'] ?? null;
            $page = \is_string($said) ? $said : throw new BrowserFailed('The browser opened no page.');
        }
        $this->call('Browser.setDownloadBehavior', ['behavior' => 'deny'] + $own);

        return $page;
    }

    /**
     * Closes all that is open, and begins a context that shares neither storage nor cache nor connections with what was before
     * (Target.createBrowserContext).
     *
     * @throws BrowserFailed
     */
    public function startAfresh(): void
    {
        $this->pipe->forget();
        $context = $this->call('Target.createBrowserContext')['browserContextId'] ?? null;
        $this->context = \is_string($context) ? $context : throw new BrowserFailed('The browser made no context of its own.');
        // The last window would take the browser with it, so the new one comes first.
        $this->blank = $this->newPage();
        $all = $this->call('Target.getTargets')['targetInfos'] ?? [];
        $others = [];
        foreach (\is_array($all) ? $all : [] as $target) {
            if (\is_array($target) && ($target['browserContextId'] ?? null) !== $this->context && \is_string($target['targetId'] ?? null)) {
                $others[$target['targetId']] = $target['type'] ?? null;
            }
        }
        $first = array_search('page', $others, true);
        if (false !== $first) {
            $this->stopServiceWorkers($first);
        }
        foreach ($others as $id => $type) {
            try {
                $this->call('Target.closeTarget', ['targetId' => $id], null, self::CLOSE_SECONDS);
            } catch (BrowserFailed $e) {
                // Workers end with their last page.
                if ('page' === $type || $this->pipe->isClosed()) {
                    throw $e;
                }
            }
        }
    }

    /** These would outlive every page that they are for, and look for a newer version of themselves. */
    private function stopServiceWorkers(string $page): void
    {
        $said = $this->call('Target.attachToTarget', ['targetId' => $page, 'flatten' => true])['sessionId'] ?? null;
        $session = \is_string($said) ? $said : null;
        $scopes = [];
        $this->listen(static function (string $method, array $parameters) use (&$scopes): void {
            $all = 'ServiceWorker.workerRegistrationUpdated' === $method ? $parameters['registrations'] ?? [] : [];
            foreach (\is_array($all) ? \array_slice($all, 0, self::SCOPES) : [] as $one) {
                $scopes[] = \is_array($one) ? $one['scopeURL'] ?? '' : '';
            }
        });
        foreach (['ServiceWorker.enable', 'ServiceWorker.stopAllWorkers'] as $method) {
            $this->call($method, [], $session, self::CLOSE_SECONDS);
        }
        foreach (\array_slice($scopes, 0, self::SCOPES) as $scope) {
            $this->call('ServiceWorker.unregister', ['scopeURL' => $scope], $session, self::CLOSE_SECONDS);
        }
        $this->pipe->forget();
    }

    /** Ends the browser and everything that it started, at once. */
    public function end(): void
    {
        // Once it is gone, nobody knows any more which were its children.
        $all = $this->load->processes();
        $this->abandon();
        // The pipe's end makes it go by itself; what does not is killed with its children.
        for ($i = 0; $i < 30 && proc_get_status($this->process)['running']; ++$i) {
            usleep(20_000);
        }
        $this->kill($all);
        proc_close($this->process);
    }

    /** Ends all that run, without a word to whoever waits for them: for a process that is ended itself. */
    public static function endAll(): void
    {
        foreach (self::$running ?? [] as $browser => $runs) {
            $browser->kill($browser->load->processes());
        }
    }

    /** @param list<int> $processes the first one first */
    private function kill(array $processes): void
    {
        foreach ($processes as $n => $one) {
            // Its number may be somebody else's by now.
            $isOurs = 0 === $n ? proc_get_status($this->process)['running']
                : str_starts_with((string) @file_get_contents('/proc/'.$one.'/comm'), 'chrom');
            if ($isOurs) {
                @posix_kill($one, \SIGKILL);
            }
        }
        if ($this->user->isNobody) {
            (new Filesystem())->remove($this->user->home);
        }
        unset(self::$running[$this]);
    }

    /**
     * However much a page keeps it busy, it is ended then.
     *
     * @param float $seconds from now on
     */
    public function until(float $seconds): void
    {
        $this->deadline = microtime(true) + $seconds;
    }

    /** Ends a browser that takes more of the machine, or of the time, than a page may. */
    private function measure(): void
    {
        if ($this->pipe->isClosed()) {
            EventLoop::cancel($this->guard);

            return;
        }
        $all = $this->load->processes();
        $late = null !== $this->deadline && microtime(true) > $this->deadline;
        $why = $this->load->excess($all) ?? ($late ? 'The page kept the browser busy beyond all limits of time.' : null);
        if (null !== $why) {
            foreach (array_reverse($all) as $one) {
                @posix_kill($one, \SIGKILL);
            }
            $this->abandon($why);
        }
    }

    private function abandon(?string $why = null): void
    {
        EventLoop::cancel($this->guard);
        $this->pipe->close($why);
    }
}
