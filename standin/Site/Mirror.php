<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * Another archive, which speaks RFC 7089: it looked at the sites of the stand-in web on days of its own. Its lists come in
 * pages of three; its copies are as they were received.
 */
final class Mirror implements Site
{
    private const HOST = 'mirror.sound-archive.test';
    private const PAGE = 3;
    private const PAGES = [
        'http://merrowline.test/' => ['2024-03-09T04:11:00Z', '2024-05-21T03:40:10Z', '2024-07-30T22:15:42Z'],
        'http://merrowline.test/people' => ['2024-04-27T01:02:03Z', '2024-08-11T14:48:30Z'],
        'http://www.saltmarch-ferries.test/safety/stern-door' => [
            '2024-11-12T05:20:31Z', '2024-11-20T05:21:07Z', '2024-12-22T05:19:58Z', '2025-01-30T05:22:44Z', '2025-05-02T05:20:12Z',
        ],
        'http://www.saltmarch-ferries.test/press/petrel-dawn-update' => ['2024-11-19T06:00:09Z'],
        'http://lantern.test/2024/11/petrel-dawn-held' => [
            '2024-11-12T02:30:00Z', '2024-11-15T02:30:01Z', '2025-03-28T02:30:00Z', '2025-04-03T02:30:02Z',
        ],
        'https://corvane-marine.test/products/bow-seal-210' => ['2024-06-02T11:00:00Z', '2025-02-14T11:00:00Z'],
    ];
    /** When it looked at what pages ask for. */
    private const PARTS = ['2024-03-09T04:11:05Z', '2024-08-11T14:48:35Z', '2024-11-12T05:20:36Z', '2025-01-30T05:22:50Z'];

    /**
     * @param list<Site> $sites what there is to be looked at
     */
    public function __construct(private readonly array $sites)
    {
    }

    public function hosts(\DateTimeImmutable $now): array
    {
        return [self::HOST];
    }

    public function answer(Request $request): Response
    {
        $target = $request->path.('' === $request->query ? '' : '?'.$request->query);
        if (1 !== preg_match('~^/(gate|list|copy)/(?:(\d{1,4})/)?(https?://.+)$~D', $target, $m)
            || null === ($url = Url::tryParse($m[3]))) {
            return '/' === $target
                ? Response::html(
                    '<!DOCTYPE html><title>Sound Archive</title><h1>Sound Archive</h1><p>We keep pages about the Sound. Programs may ask'
                        .' <code>/gate/</code> and <code>/list/</code>.</p>',
                )
                : Response::html('<title>Not here</title><h1>Not here</h1>', 404);
        }
        $held = $this->held($url, $request);

        return match (true) {
            [] === $held => Response::html('<title>Not held</title><p>We do not hold this address.', 404),
            'gate' === $m[1] => $this->gate($url, $held, $request),
            'list' === $m[1] => $this->list($url, $held, (int) $m[2]),
            default => $this->copy($url, $held, (int) $m[2], $request),
        };
    }

    /**
     * @return list<\DateTimeImmutable> oldest first, none from behind the clock
     */
    private function held(Url $url, Request $request): array
    {
        $isPart = 1 === preg_match('/\.(?:css|js|png|svg|jpe?g|gif|woff2?)$/', $url->path);
        $days = self::PAGES[(string) $url] ?? ($isPart ? self::PARTS : []);
        $moments = array_map(static fn (string $day): \DateTimeImmutable => new \DateTimeImmutable($day), $days);

        return array_values(array_filter(
            $moments, fn (\DateTimeImmutable $at): bool => $at <= $request->now && 200 === $this->asItWas($url, $at, $request)->status(),
        ));
    }

    private function asItWas(Url $url, \DateTimeImmutable $at, Request $request): Response
    {
        foreach ($this->sites as $site) {
            if (\in_array($url->host, $site->hosts($at), true)) {
                return $site->answer(new Request(
                    $url->host,
                    'https' === $url->scheme,
                    'GET',
                    $url->path,
                    $url->query ?? '',
                    MessageHead::parse("GET / HTTP/1.1\r\nHost: {$url->host}\r\n\r\n"),
                    '',
                    $at,
                ));
            }
        }

        return Response::html('', 404);
    }

    /**
     * @param non-empty-list<\DateTimeImmutable> $held
     */
    private function gate(Url $url, array $held, Request $request): Response
    {
        $asked = $request->head->fields->get('Accept-Datetime');
        $wanted = null === $asked ? $request->now : HttpDate::parse($asked);
        if (null === $wanted) {
            return Response::html('<title>No date</title><p>Accept-Datetime is no date.', 400);
        }
        $nearest = 0;
        foreach ($held as $n => $at) {
            $nearest = abs($at->getTimestamp() - $wanted->getTimestamp()) < abs($held[$nearest]->getTimestamp() - $wanted->getTimestamp())
                ? $n
                : $nearest;
        }

        return Response::redirect($this->address($url, $nearest), 302)->with('Vary', 'accept-datetime')->with(
            'Link', implode(', ', $this->links($url)),
        );
    }

    /**
     * @param non-empty-list<\DateTimeImmutable> $held
     */
    private function list(Url $url, array $held, int $from): Response
    {
        $lines = $this->links($url);
        foreach (\array_slice($held, $from, self::PAGE) as $n => $at) {
            $relation = match ($from + $n) {
                0 => 'first memento', \count($held) - 1 => 'last memento', default => 'memento',
            };
            $lines[] = '<'.$this->address($url, $from + $n).'>; rel="'.$relation.'"; datetime="'.HttpDate::write($at).'"';
        }
        if (\count($held) > $from + self::PAGE) {
            $lines[] = '<http://'.self::HOST.'/list/'.($from + self::PAGE).'/'.$url.'>; rel="timemap"; type="application/link-format"';
        }

        return Response::of('application/link-format', implode(",\n ", $lines)."\n");
    }

    /**
     * @param non-empty-list<\DateTimeImmutable> $held
     */
    private function copy(Url $url, array $held, int $number, Request $request): Response
    {
        $at = $held[$number] ?? null;
        if (null === $at) {
            return Response::html('<title>Not held</title><p>There is no copy of that number.', 404);
        }

        return $this->asItWas($url, $at, $request)->with('Memento-Datetime', HttpDate::write($at))->with(
            'Link', implode(', ', $this->links($url)),
        );
    }

    private function address(Url $url, int $number): string
    {
        return 'http://'.self::HOST.'/copy/'.$number.'/'.$url;
    }

    /**
     * @return list<string>
     */
    private function links(Url $url): array
    {
        return [
            '<'.$url.'>; rel="original"',
            '<http://'.self::HOST.'/gate/'.$url.'>; rel="timegate"',
            '<http://'.self::HOST.'/list/'.$url.'>; rel="timemap"; type="application/link-format"',
        ];
    }
}
