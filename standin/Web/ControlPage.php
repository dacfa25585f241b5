<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

/** The stand-in web's own small page: shows its clock, sets it, lists the sites. */
final readonly class ControlPage
{
    private const DATES = [
        '2024-03-20' => 'spring: the winter timetable ends', '2024-10-02' => 'the operator has a new name',
        '2024-11-12' => 'the stern-door notice is out',
        '2024-11-16' => 'a number in it is another', '2024-12-05' => 'a negation is another', '2025-02-10' => 'a name is gone',
        '2025-07-01' => 'the old name has no address', '2026-03-01' => 'the notice is withdrawn',
    ];

    /**
     * @param list<string> $start pages to begin with
     */
    public function __construct(private Clock $clock, private array $start, private ?MailBox $mail = null)
    {
    }

    public function answer(Request $request): Response
    {
        if (str_starts_with($request->path, '/mail/')) {
            $message = $this->mail?->message(substr($request->path, 6));

            return null === $message
                ? Response::html('<title>No such message</title><p>There is no such message.', 404)
                : Response::of('text/plain; charset=utf-8', $message);
        }
        $said = '';
        if ('POST' === $request->method) {
            if ('cross-site' === $request->head->fields->get('Sec-Fetch-Site')) {
                return Response::html('<title>Refused</title><p>The clock is set from its own page only.', 403);
            }
            parse_str($request->body, $form);
            try {
                $this->clock->set(\is_string($form['at'] ?? null) ? $form['at'] : '');
                $said = 'The clock is set.';
            } catch (\InvalidArgumentException $e) {
                $said = $e->getMessage();
            }
        }
        $now = $this->clock->now()->format('Y-m-d H:i:s').' UTC';
        $buttons = '';
        foreach (self::DATES as $date => $what) {
            $buttons .= "<li><button name=at value=\"{$date}T10:00Z\">{$date}</button> {$what}";
        }
        $pages = implode('', array_map(static fn (string $url): string => '<li><code>'.htmlspecialchars($url).'</code>', $this->start));

        return Response::html('<!doctype html><html lang=en><title>Stand-in web</title><meta name=viewport'
            .' content="width=device-width"><style>body{font:16px/1.5 sans-serif;max-width:44rem;margin:2rem auto;padding:0'
                .' 1rem}button,input{font:inherit}</style>'
            .'<h1>Stand-in web</h1><p role=status>'.htmlspecialchars($said).'<p>Its clock shows <b>'.$now.'</b>.'
            .'<form method=post><p><label>Set it to <input name=at value="'.$this->clock->now()->format('Y-m-d')
                .'T10:00Z"></label> <button>Set</button></form>'
            .'<form method=post><ul>'.$buttons.'</ul></form><h2>Pages to keep</h2><ul>'.$pages.'</ul><h2>Mail box</h2><ul>'.$this->letters()
                .'</ul>');
    }

    private function letters(): string
    {
        $letters = array_map(
            static fn (array $one): string => '<li><a href="/mail/'.htmlspecialchars($one['name']).'">'.htmlspecialchars($one['subject'])
                .'</a> to '.htmlspecialchars($one['to']).', '.htmlspecialchars($one['at']),
            $this->mail?->messages() ?? [],
        );

        return [] === $letters ? '<li>No mail came.' : implode('', $letters);
    }
}
