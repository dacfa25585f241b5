<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Site\Art;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** A site of the stand-in web on which everything goes wrong in one way or another. */
final class TrapSite implements Site
{
    public const EXACT = "HTTP/1.1 200 Quite Fine\r\nX-Twice: one\r\nx-twice:two\r\nContent-Type:"
        ." text/html;charset=\"utf-8\"\r\nX-Empty:\r\nContent-Length: 65\r\nConnection: close\r\n\r\n<!doctype"
        ." html><title>Exact</title><p>These bytes and no others.\n";
    public const FILM = 8_000_000;

    public function hosts(\DateTimeImmutable $now): array
    {
        // The second name leads to the loopback, and no setting allows it.
        return ['traps.test', 'rebound.example'];
    }

    public function answer(Request $request): Response
    {
        return match ($request->path) {
            '/exact' => Response::raw(self::EXACT),
            '/cut' => self::page('<p>Half of a picture.<img src="/cut.png"><img src="/reset.png">'),
            '/cut.png' => Response::of('image/png', Art::ship(600, 300, '#345', 'CUT', 1))->cutAt(2_000),
            '/reset.png' => Response::of('image/png', Art::ship(600, 300, '#345', 'RESET', 2))->cutAt(2_000, true),
            '/patchy' => self::page('<p>A picture that comes later.<img src="/patchy.png" width="300" height="150">'),
            '/patchy.png' => $request->since('2024-11-20')
                ? Response::of('image/png', Art::ship(300, 150, '#345', 'LATER', 4))
                : Response::of('image/png', Art::ship(300, 150, '#345', 'LATER', 4))->cutAt(100, true),
            '/loop' => Response::redirect('/loop', 302),
            '/inward' => Response::redirect('http://127.0.0.1:'.self::port($request).'/health'),
            '/rebound' => Response::redirect('http://rebound.example/exact'),
            '/parts-inward' => self::page(
                '<p>Parts from inside.<img src="http://127.0.0.1/a.png"><img src="http://[::ffff:169.254.169.254]/b.png"><img'
                    .' src="http://rebound.example/c.png"><img src="http://2130706433/d.png"><script>fetch("http://10.0.0.1/e").catch(()'
                        .' => {})</script>',
            ),
            '/busy' => self::page('<p id="a">Waiting.<script>
                alert("stop"); open("/exact"); const done = t => { document.getElementById("a").textContent += t; };
                fetch("/post", {method: "POST", body: "a=1",
                  headers: {"Content-Type": "application/x-www-form-urlencoded"}}).then(r => r.text()).then(done);
                new Worker(URL.createObjectURL(new Blob([
                  "fetch(\'http://traps.test/from-worker\').then(r => r.text()).then(t => postMessage(t))"
                ]))).onmessage = e => done(e.data);
                document.body.attachShadow &&
                  document.body.appendChild(document.createElement("x-y")).attachShadow({mode: "open"}).append("In the shadow.");
            </script>'),
            '/post' => Response::of('text/plain', ' Posted '.$request->body.'.'),
            '/from-worker' => Response::of('text/plain', ' From a worker.')->with('Access-Control-Allow-Origin', '*'),
            '/slow' => self::page('<p>A slow picture.<img src="/slow.png">'),
            '/slow.png' => Response::of('image/png', Art::ship(600, 300, '#345', 'SLOW', 3))->after(6.0),
            '/film' => self::page(
                '<p>A film.<video src="/film.mp4'.('' === $request->query ? '' : '?'.$request->query).'" preload="none"></video>',
            ),
            '/film.mp4' => self::film($request),
            '/heavy' => self::page(
                '<p>Heavy parts.<script>for (const n of [1, 2, 3]) fetch("/noise/" + n).then(r => r.arrayBuffer());</script>',
            ),
            '/noise/1', '/noise/2', '/noise/3' => Response::of('application/octet-stream', random_bytes(1_500_000)),
            default => self::page('<h1>Nothing here</h1>', 404),
        };
    }

    private static function page(string $body, int $status = 200): Response
    {
        return Response::html('<!doctype html><html><head><title>Trap</title></head><body>'.$body.'</body></html>', $status);
    }

    /** As long as the query says, in megabytes. */
    private static function film(Request $request): Response
    {
        $length = 1 === preg_match('/^mb=(\d{1,4})$/', $request->query, $m) ? (int) $m[1] * 1_000_000 : self::FILM;

        return Response::streamed('video/mp4', $length, static function () use ($length): \Generator {
            for ($sent = 0; $sent < $length; $sent += \strlen($piece)) {
                $piece = substr(str_repeat(hash('sha512', (string) $sent, true), 1_024), 0, $length - $sent);
                yield $piece;
            }
        });
    }

    private static function port(Request $request): string
    {
        return 1 === preg_match('/^port=(\d{1,5})$/', $request->query, $m) ? $m[1] : '80';
    }
}
