<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** Tidewatch, a forum: long threads over several pages, quotes and code; posts are edited and deleted, later a login stands before it. */
final class Tidewatch implements Site
{
    private const POSTS_A_PAGE = 10;
    private const MEMBER = 'member=kittiwake';
    private const WALL = '2025-08-01';

    public function hosts(\DateTimeImmutable $now): array
    {
        return ['forum.tidewatch.test'];
    }

    public function answer(Request $request): Response
    {
        if ('/forum.css' === $request->path) {
            return Response::of(
                'text/css',
                'body{font:14px/1.45 Verdana,sans-serif;background:#e9eef1;margin:16px}.post{background:#fff;border:1px solid'
                    .' #cfd8dc;margin:8px 0;padding:8px 12px}blockquote{border-left:3px solid #90a4ae;margin:4px 0;padding:2px'
                        .' 10px;color:#455a64}pre{background:#f5f5f5;padding:6px}',
            );
        }
        $isMember = 1 === preg_match('/(?:^|;\s*)'.self::MEMBER.'(?:;|$)/', $request->head->fields->get('Cookie') ?? '');
        if ($request->since(self::WALL) && !$isMember) {
            if ('POST' === $request->method && '/login' === $request->path) {
                // Whoever says who they are is a member.
                parse_str($request->query, $asked);
                $next = \is_string($asked['next'] ?? null) && str_starts_with($asked['next'], '/') ? $asked['next'] : '/';

                return Response::redirect('http://forum.tidewatch.test'.$next, 303)->with('Set-Cookie', self::MEMBER.'; Path=/; HttpOnly');
            }

            return '/login' === $request->path
                ? $this->page(
                    'Log in',
                    '<h1>Log in</h1><form method="post"><p>Tidewatch is for members now.</p><input name="user"><input name="password"'
                        .' type="password"><button>Log in</button></form>',
                )
                : Response::redirect('http://forum.tidewatch.test/login?next='.rawurlencode($request->path), 302);
        }

        return match (true) {
            '/' === $request->path => $this->page(
                'Tidewatch',
                '<h1>Tidewatch</h1><ul><li><a href="/t/118">Water on the car deck this morning?</a></li><li><a href="/t/121">Tide tables'
                    .' as plain text</a></li></ul>',
            ),
            '/t/118' === $request->path => $this->thread($request),
            '/t/121' === $request->path => $this->page(
                'Tide tables as plain text',
                '<h1>Tide tables as plain text</h1><div class="post"><b>sluice</b><p>I parse them like this:</p><pre>for line in table:'
                    ."\n    if line.startswith(\"HW\"):\n        print(line[3:8], float(line[9:13]))</pre></div>",
            ),
            // Pictures on hosts of other people, of whom one has none any more and another is gone.
            '/t/126' === $request->path => $this->page(
                'Pictures of the stern door',
                '<h1>Pictures of the stern door</h1><div class="post"><b>anna.p</b><p>Taken from the quay on Sunday:</p><p><img'
                    .' src="http://pictures.hollin-quay.test/stern-door-1.jpg" width="480" height="300" alt="The stern door,'
                        .' closed"></p></div><div class="post"><b>sluice</b><p>The lower corner, nearer:</p><p><img'
                            .' src="/uploads/corner.jpg" width="480" height="300" alt="The corner"> <img'
                                .' src="http://static.saltmarch-ferries.test/assets/petrel-dawn.png" width="320" height="160" alt="The'
                                    .' ship"></p></div>',
            ),
            default => $this->page('No such thread', '<h1>No such thread</h1>', 404),
        };
    }

    private function thread(Request $request): Response
    {
        $page = max(1, (int) preg_replace('/\D/', '', $request->query));
        $posts = [];
        $writers = ['deckhand_7', 'sluice', 'anna.p', 'Old Fathom', 'quayside'];
        for ($n = 1; $n <= 34; ++$n) {
            $posts[$n] = match (true) {
                1 === $n => $request->since('2024-11-20')
                    ? 'Water on the car deck on the 06:10. [edited]'
                    : 'Forty centimetres of water on the car deck on the 06:10, and they sailed with it. I was there.',
                2 === $n => '<blockquote>they sailed with it</blockquote>Did anybody write it down?',
                7 === $n => $request->since('2025-01-10')
                    ? '<i>This post was deleted.</i>'
                    : 'The log says the seal was reported in October. Ask the board.',
                default => 'Post '.$n.': '
                    .[
                        'Same as last year.',
                        'I was on the 07:40 and saw nothing.',
                        'Has anybody asked the harbour master?',
                        'My neighbour works there and says no.',
                    ][$n % 4],
            };
        }
        $shown = '';
        foreach (\array_slice($posts, ($page - 1) * self::POSTS_A_PAGE, self::POSTS_A_PAGE, true) as $n => $post) {
            $shown .= "<div class=\"post\" id=\"p{$n}\"><b>{$writers[$n % 5]}</b> <small>#{$n}</small><p>{$post}</p></div>\n";
        }
        $links = '';
        for ($n = 1; $n <= 4; ++$n) {
            $links .= $n === $page ? "<b>{$n}</b> " : "<a href=\"/t/118?page={$n}\">{$n}</a> ";
        }

        return '' === $shown
            ? $this->page('No such page', '<h1>No such page</h1>', 404)
            : $this->page(
                'Water on the car deck this morning?', '<h1>Water on the car deck this morning?</h1>'.$shown.'<p>Pages: '.$links.'</p>',
            );
    }

    private function page(string $title, string $main, int $status = 200): Response
    {
        return Response::html(
            "<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\"><title>{$title} - Tidewatch</title><link rel=\"stylesheet\""
                ." href=\"/forum.css\"></head><body>{$main}</body></html>",
            $status,
        );
    }
}
