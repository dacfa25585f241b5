<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\App\Network\Browser\PageSession;
use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\App\Network\HttpServer;
use Ypomna\App\Network\Stream;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Tests\Support\Folder;

/** A page that leaves all it can behind in its browser, and what is read in that browser afterwards. */
final class WalledBrowserTest extends TestCase
{
    private const LEAVE = <<<'HTML'
        <!doctype html><title>before</title><script>
        localStorage.setItem('left', '1'); sessionStorage.setItem('left', '1'); document.cookie = 'left=1; max-age=9999; path=/';
        document.cookie = 'all=1; max-age=9999; path=/; domain=localhost';
        indexedDB.open('left'); caches.open('left').then(c => c.put('/kept', new Response('left')));
        new SharedWorker('/worker.js', 'left'); new Worker('/worker.js');
        open('/window', '_blank', 'noopener');
        new BroadcastChannel('left').onmessage = e => fetch('/heard');
        navigator.serviceWorker.register('/service.js').then(() => navigator.serviceWorker.ready).then(() => { document.title = 'left'; });
        addEventListener('pagehide', () => navigator.sendBeacon('/leaving'));
        setInterval(() => fetch('/page'), 100);
        </script>
        HTML;
    private const WORKER = 'setInterval(() => fetch("/still"), 100); new BroadcastChannel("left").onmessage = e => fetch("/heard");';
    private const SERVICE = 'oninstall = () => skipWaiting(); onactivate = e => e.waitUntil(clients.claim()); '
        .'onfetch = e => { if (e.request.mode === "navigate") e.respondWith(new Response("<title>forged</title>", '
        .'{headers: {"Content-Type": "text/html"}})); }; '.self::WORKER;
    private const LOOK = <<<'HTML'
        <!doctype html><title>looking</title><script>
        new BroadcastChannel('left').postMessage(1);
        (async () => {
            const left = [localStorage.length, sessionStorage.length, document.cookie.length, (await indexedDB.databases()).length,
                (await caches.keys()).length, (await navigator.serviceWorker.getRegistrations()).length];
            const cached = await (await fetch('/cached')).text();
            document.title = left.join() + ' ' + cached;
        })();
        </script>
        HTML;
    private const OURS = [
        '/', '/cached', '/worker.js', '/service.js', '/page', '/still', '/window', '/heard', '/leaving', '/kept',
    ];
    private const HOST = 'http://page.localhost';

    private Folder $folder;
    private ?WalledBrowser $browser = null;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    protected function tearDown(): void
    {
        $this->browser?->end();
    }

    public function testStartedAfreshItKnowsNothingOfWhatWasBefore(): void
    {
        $before = new \ArrayObject();
        $this->browser = WalledBrowser::start('/usr/bin/chromium', $this->folder->path, self::server($before, self::LEAVE, 'old'));
        $page = new PageSession($this->browser->chromium, null);
        $page->open();
        self::assertNull($page->load(self::HOST.':'.$this->browser->port().'/cached', 10.0));
        self::assertNull($page->load(self::HOST.':'.$this->browser->port().'/', 10.0));
        $left = self::until(static fn (): bool => 'left' === $page->evaluate('document.title'));
        self::assertTrue($left, 'The page could not leave what it wanted to.');
        self::assertTrue(self::until(static fn (): bool => \in_array('/still', $before->getArrayCopy(), true)), 'Its workers do not work.');

        $this->browser->startAfresh();
        $asked = \count($before);
        PageSession::pause(1.5);
        self::assertSame([], \array_slice($before->getArrayCopy(), $asked), 'Something went on asking.');

        $after = new \ArrayObject();
        $this->browser->lead(self::server($after, self::LOOK, 'new'));
        PageSession::pause(1.0);
        self::assertCount(0, $after, 'Something of the page before went on.');
        $again = new PageSession($this->browser->chromium, null);
        $again->open();
        self::assertNull($again->load(self::HOST.':'.$this->browser->port().'/', 10.0));
        self::assertTrue(self::until(static fn (): bool => 'looking' !== $again->evaluate('document.title')));
        self::assertSame('0,0,0,0,0,0 new', $again->evaluate('document.title'));
        self::assertSame(['/', '/cached'], $after->getArrayCopy());
        self::assertCount($asked, $before);
    }

    /**
     * @param \ArrayObject<int, string> $asked what is asked for, is added to
     *
     * @return \Closure(Stream, bool): void
     */
    private static function server(\ArrayObject $asked, string $page, string $cached): \Closure
    {
        $server = new HttpServer(static function (MessageHead $head) use ($asked, $page, $cached): array {
            $path = $head->target ?? '';
            // The browser asks for little pictures and for its own news by itself.
            if (\in_array($path, self::OURS, true)) {
                $asked[] = $path;
            }

            return match ($path) {
                '/' => [200, ['Content-Type' => 'text/html'], [$page]],
                '/worker.js' => [200, ['Content-Type' => 'text/javascript'], [self::WORKER]],
                '/service.js' => [200, ['Content-Type' => 'text/javascript'], [self::SERVICE]],
                '/cached' => [200, ['Content-Type' => 'text/plain', 'Cache-Control' => 'max-age=9999'], [$cached]],
                default => [200, ['Content-Type' => 'text/plain'], ['here']],
            };
        });

        return $server->serve(...);
    }

    /** @param \Closure(): bool $is */
    private static function until(\Closure $is): bool
    {
        for ($n = 0; $n < 100; ++$n) {
            if ($is()) {
                return true;
            }
            PageSession::pause(0.1);
        }

        return false;
    }
}
