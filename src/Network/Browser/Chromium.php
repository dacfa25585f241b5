<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Revolt\EventLoop;
use Revolt\EventLoop\Suspension;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Shared\Settings;
use Ypomna\Core\Split;

/**
 * A headless Chromium of its own for one capture, spoken to over a pair of pipes: JSON messages, each ended by NUL
 * (DevTools protocol). Its profile is made new and removed afterwards.
 */
final class Chromium
{
    /** A longer message is dropped: whatever a page puts into it, it costs no memory here. */
    private const MAX_MESSAGE = 20_971_520;
    private const SETPRIV = '/usr/bin/setpriv';
    private const NOBODY = 65_534;
    /** Whatever ends this process, the browser ends with it. */
    private const ENDS_WITH_US = ['--pdeathsig', 'KILL'];
    private const CACHE_BYTES = 33_554_432;
    /** Of the scripts of one page. */
    private const HEAP_MEGABYTES = 1_024;
    /** Of all its processes together, in megabytes of memory that nobody else shares; the settings may say another one. */
    private const MEMORY = '2600';
    /** Of what it writes to its folder, in megabytes. */
    private const DISK = '500';
    private const PROCESSES = 200;
    private const GUARD_SECONDS = 0.7;
    /** A page that does not let itself be closed by then is ended with the browser. */
    private const CLOSE_SECONDS = 3.0;
    private const SCOPES = 100;

    /** @var array<int, Suspension<array<string, mixed>>> */
    private array $waiting = [];
    /** @var list<\Closure(string, array<string, mixed>, string): void> */
    private array $listeners = [];
    /** @var array<string, bool> whether Chromium's sandbox can work, by who it runs as */
    private static array $sandboxes = [];
    private int $lastId = 0;
    private string $buffer = '';
    private string $unsent = '';
    private ?string $writeWatch = null;
    private bool $skipping = false;
    private bool $gone = false;
    private string $readWatch;
    private string $guard;
    /** Why it was ended from here; null if it was not. */
    private ?string $verdict = null;
    private ?float $deadline = null;
    /** What is opened belongs to it; null is the browser's first. */
    private ?string $context = null;
    /** A blank page that waits to be opened. */
    private ?string $blank = null;
    /** @var \WeakMap<self, true>|null those that run */
    private static ?\WeakMap $running = null;

    /**
     * @param resource $process
     * @param resource $in what the browser reads
     * @param resource $out what the browser writes
     * @param string|null $home a folder that goes with the browser
     */
    private function __construct(
        private $process,
        private $in,
        private $out,
        private readonly ?string $home = null,
        private readonly string $profile = '',
    ) {
        self::$running ??= new \WeakMap();
        self::$running[$this] = true;
        stream_set_blocking($this->in, false);
        stream_set_blocking($this->out, false);
        $this->readWatch = EventLoop::onReadable($this->out, $this->receive(...));
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
        $shared = 0 === posix_geteuid() && is_executable(self::SETPRIV) ? self::sharedFolder() : null;
        $root = null !== $shared;
        $home = $root ? self::homeOfNobody($shared) : $folder;
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
            '--user-data-dir='.$home.'/profile', '--disk-cache-size='.self::CACHE_BYTES, '--media-cache-size='.self::CACHE_BYTES,
            '--js-flags=--max-old-space-size='.self::HEAP_MEGABYTES, '--window-size=1280,800', 'about:blank',
        ];
        // Nobody's: what breaks out of the page finds nothing of ours.
        $as = $root ? [
            self::SETPRIV, '--reuid='.self::NOBODY, '--regid='.self::NOBODY, '--clear-groups', '--no-new-privs', ...self::ENDS_WITH_US,
        ]
            : (is_executable(self::SETPRIV) ? [self::SETPRIV, ...self::ENDS_WITH_US] : []);
        if ((0 === posix_geteuid() && !$root) || !self::canSandbox($as)) {
            if ($mustSandbox) {
                throw new BrowserFailed(
                    'This machine does not let the browser shut itself in (user namespaces are switched off), and it is not started'
                        .' without that.',
                );
            }
            array_splice($arguments, 1, 0, '--no-sandbox');
        }
        $arguments = [...($where instanceof BrowserCell ? $where->command() : []), ...$as, ...$arguments];
        // The browser makes a socket in its temporary folder, whose path has to stay below 108 bytes.
        $environment = [
            'HOME' => $home,
            'TMPDIR' => \strlen($home) > 60 ? sys_get_temp_dir() : $home,
            'PATH' => '/usr/local/bin:/usr/bin:/bin',
            'LANG' => 'C.UTF-8',
            'TZ' => 'UTC',
        ];
        $process = @proc_open(
            $arguments,
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', $folder.'/browser.log', 'w'], ['pipe', 'r'], ['pipe', 'w']],
            $pipes,
            $home,
            $environment,
        );
        if (false === $process) {
            throw new BrowserFailed('The browser could not be started.');
        }

        return new self($process, $pipes[3], $pipes[4], $root ? $home : null, $home);
    }

    /**
     * Whether Chromium's own sandbox can work here: it needs namespaces, which machines refuse in many ways, so it is tried.
     *
     * @param list<string> $as what goes before a command to run it as somebody else
     */
    public static function canSandbox(array $as = []): bool
    {
        $key = implode(' ', $as);
        if (!isset(self::$sandboxes[$key])) {
            $process = @proc_open(
                [...$as, '/usr/bin/unshare', '--user', '--pid', '--net', '--fork', '/bin/true'],
                [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
                $pipes,
            );
            self::$sandboxes[$key] = false !== $process && 0 === proc_close($process);
        }

        return self::$sandboxes[$key];
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
        if ($this->gone) {
            throw new BrowserFailed($this->verdict ?? 'The browser has ended.');
        }
        $id = ++$this->lastId;
        $message = [
            'id' => $id, 'method' => $method, 'params' => (object) $parameters,
        ] + (null === $session ? [] : ['sessionId' => $session]);
        $suspension = EventLoop::getSuspension();
        $this->waiting[$id] = $suspension;
        $timer = EventLoop::delay($seconds, function () use ($id, $method): void {
            $waiting = $this->waiting[$id] ?? null;
            unset($this->waiting[$id]);
            $waiting?->throw(new BrowserFailed(\sprintf('The browser did not answer to %s in time.', $method)));
        });
        $this->send(json_encode($message, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)."\0");
        try {
            /** @var array<string, mixed> $answer */
            $answer = $suspension->suspend();
        } finally {
            EventLoop::cancel($timer);
        }
        if (isset($answer['error']) && \is_array($answer['error'])) {
            $said = $answer['error']['message'] ?? '';
            throw new BrowserFailed(\sprintf('The browser refused %s: %s', $method, \is_string($said) ? $said : ''));
        }
        /** @var array<string, mixed> $result */
        $result = \is_array($answer['result'] ?? null) ? $answer['result'] : [];

        return $result;
    }

    /**
     * @param \Closure(string, array<string, mixed>, string): void $listener given method, parameters, session of each event
     */
    public function listen(\Closure $listener): void
    {
        $this->listeners[] = $listener;
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
        $this->listeners = [];
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
                if ('page' === $type || $this->gone) {
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
        $this->listeners = [];
    }

    /** Ends the browser and everything that it started, at once. */
    public function end(): void
    {
        // Once it is gone, nobody knows any more which were its children.
        $pid = proc_get_status($this->process)['pid'];
        $children = self::children($pid);
        $this->abandon();
        // The pipe's end makes it go by itself; what does not is killed with its children.
        for ($i = 0; $i < 30 && proc_get_status($this->process)['running']; ++$i) {
            usleep(20_000);
        }
        $this->kill($pid, $children);
        proc_close($this->process);
    }

    /** Ends all that run, without a word to whoever waits for them: for a process that is ended itself. */
    public static function endAll(): void
    {
        foreach (self::$running ?? [] as $browser => $runs) {
            $pid = proc_get_status($browser->process)['pid'];
            $browser->kill($pid, self::children($pid));
        }
    }

    /** @param list<int> $children */
    private function kill(int $pid, array $children): void
    {
        foreach ([$pid, ...$children] as $one) {
            if ($one === $pid ? proc_get_status($this->process)['running'] : str_starts_with(
                (string) @file_get_contents('/proc/'.$one.'/comm'), 'chrom',
            )) {
                @posix_kill($one, \SIGKILL);
            }
        }
        if (null !== $this->home) {
            (new Filesystem())->remove($this->home);
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

    /** Ends a browser that takes more of the machine than a page may. */
    private function measure(): void
    {
        $pid = proc_get_status($this->process)['pid'];
        $all = [$pid, ...self::children($pid)];
        $memory = 0;
        foreach ($all as $one) {
            // Resident without what is shared with others, in pages.
            [, $resident, $shared] = [
                ...array_map(\intval(...), explode(' ', (string) @file_get_contents('/proc/'.$one.'/statm'))), 0, 0, 0, 0,
            ];
            $memory += max(0, $resident - $shared) * 4_096;
        }
        $this->verdict = match (true) {
            $memory > 1_000_000 * (int) Settings::text('BROWSER_MEMORY', self::MEMORY) => 'The page took more memory than a page may.',
            \count($all) > self::PROCESSES => 'The page made more processes than a page may.',
            null !== $this->deadline && microtime(true) > $this->deadline => 'The page kept the browser busy beyond all limits of time.',
            self::size($this->profile) > 1_000_000 * (int) Settings::text('BROWSER_DISK', self::DISK) => 'The page wrote more to the'
                .' disk than a page may.',
            default => null,
        };
        if (null !== $this->verdict) {
            foreach (array_reverse($all) as $one) {
                @posix_kill($one, \SIGKILL);
            }
            $this->abandon();
        }
    }

    private static function size(string $folder): int
    {
        $bytes = 0;
        try {
            $walk = new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS),
                \RecursiveIteratorIterator::LEAVES_ONLY,
                \RecursiveIteratorIterator::CATCH_GET_CHILD,
            );
            /** @var \SplFileInfo $file */
            foreach ($walk as $file) {
                $bytes += $file->isFile() && !$file->isLink() ? (int) @$file->getSize() : 0;
            }
        } catch (\RuntimeException) {
            // Files come and go while they are counted.
        }

        return $bytes;
    }

    /** A folder for temporary files that everybody can get to; null if there is none. */
    private static function sharedFolder(): ?string
    {
        foreach ([sys_get_temp_dir(), '/tmp', '/var/tmp'] as $folder) {
            $open = is_dir($folder);
            for ($at = $folder; $open && '/' !== $at && '.' !== $at; $at = \dirname($at)) {
                $open = 0 !== ((int) @fileperms($at) & 0o001);
            }
            if ($open) {
                return $folder;
            }
        }

        return null;
    }

    private static function homeOfNobody(string $folder): string
    {
        $home = $folder.'/ypomna-b-'.bin2hex(random_bytes(6));
        if (!mkdir($home, 0o700) || !chown($home, self::NOBODY) || !chgrp($home, self::NOBODY)) {
            throw new BrowserFailed('There is no folder for the browser.');
        }

        return $home;
    }

    private function abandon(): void
    {
        if ($this->gone) {
            return;
        }
        $this->gone = true;
        EventLoop::cancel($this->readWatch);
        EventLoop::cancel($this->guard);
        if (null !== $this->writeWatch) {
            EventLoop::cancel($this->writeWatch);
        }
        fclose($this->in);
        fclose($this->out);
        foreach ($this->waiting as $suspension) {
            $suspension->throw(new BrowserFailed($this->verdict ?? 'The browser has ended.'));
        }
        $this->waiting = [];
    }

    private function send(string $bytes): void
    {
        $this->unsent .= $bytes;
        $this->writeWatch ??= EventLoop::onWritable($this->in, function (): void {
            $written = @fwrite($this->in, substr($this->unsent, 0, 65_536));
            $this->unsent = substr($this->unsent, (int) $written);
            if ('' === $this->unsent && null !== $this->writeWatch) {
                EventLoop::cancel($this->writeWatch);
                $this->writeWatch = null;
            }
        });
    }

    private function receive(): void
    {
        $piece = @fread($this->out, 262_144);
        if (false === $piece || ('' === $piece && feof($this->out))) {
            $this->abandon();

            return;
        }
        $start = 0;
        while (false !== ($nul = strpos($piece, "\0", $start))) {
            $message = $this->buffer.substr($piece, $start, $nul - $start);
            $start = $nul + 1;
            $this->buffer = '';
            if (!$this->skipping) {
                $this->dispatch($message);
            }
            $this->skipping = false;
            if ($this->gone) {
                return;
            }
        }
        $this->buffer .= $this->skipping ? '' : substr($piece, $start);
        if (\strlen($this->buffer) > self::MAX_MESSAGE) {
            $this->buffer = '';
            $this->skipping = true;
        }
    }

    private function dispatch(string $json): void
    {
        $message = json_decode($json, true, 256);
        unset($json);
        if (!\is_array($message)) {
            return;
        }
        $id = $message['id'] ?? null;
        if (\is_int($id) && isset($this->waiting[$id])) {
            $suspension = $this->waiting[$id];
            unset($this->waiting[$id]);
            /** @var array<string, mixed> $message */
            $suspension->resume($message);

            return;
        }
        if (\is_string($message['method'] ?? null)) {
            /** @var array<string, mixed> $parameters */
            $parameters = \is_array($message['params'] ?? null) ? $message['params'] : [];
            $session = \is_string($message['sessionId'] ?? null) ? $message['sessionId'] : '';
            foreach ($this->listeners as $listener) {
                $listener($message['method'], $parameters, $session);
            }
        }
    }

    /**
     * @return list<int>
     */
    private static function children(int $pid): array
    {
        $all = [];
        $files = glob('/proc/'.$pid.'/task/*/children');
        foreach (false === $files ? [] : $files as $file) {
            foreach (Split::words(trim((string) @file_get_contents($file))) as $child) {
                array_push($all, (int) $child, ...self::children((int) $child));
            }
        }

        return $all;
    }
}
