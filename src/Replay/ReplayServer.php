<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Network\HttpServer;
use Ypomna\App\Network\Stream;
use Ypomna\App\Replay\Value\PartQuery;
use Ypomna\Core\Http\MessageHead;

/**
 * What answers when files are read without the application: our window on one host, archived pages on theirs. It
 * answers to loopback names only.
 */
final readonly class ReplayServer
{
    public const WINDOW = 'reader.localhost';
    private const WINDOWS = [self::WINDOW, 'localhost', '127.0.0.1'];

    /** @param ReaderWindow|null $window null where only archived pages are to be had */
    public function __construct(private PageHosts $hosts, private PageAnswers $pages, private ?ReaderWindow $window)
    {
    }

    /**
     * @param string $port with its colon, or ''
     *
     * @return list<string> origins of our window
     */
    public static function windows(string $port): array
    {
        return array_map(static fn (string $host): string => 'http://'.$host.$port, self::WINDOWS);
    }

    /** Serves one connection until either side ends it. */
    public function serve(Stream $client): void
    {
        $answer = function (MessageHead $head, ?string $body): array {
            $answer = $this->answer($head, $body);

            return [$answer->status, $answer->headers, $answer->body];
        };
        (new HttpServer($answer))->serve($client);
    }

    private function answer(MessageHead $head, ?string $body): PageAnswer
    {
        $authority = strtolower($head->fields->get('Host') ?? '');
        $port = 1 === preg_match('/:\d+$/D', $authority, $m) ? $m[0] : '';
        $host = substr($authority, 0, \strlen($authority) - \strlen($port));
        $target = (string) preg_replace('~^https?://[^/]*~i', '', (string) $head->target);
        $headers = [];
        foreach ($head->fields->lines as [$name, $value]) {
            $headers[strtolower($name)] ??= $value;
        }
        try {
            if (null !== $this->window && \in_array($host, self::WINDOWS, true)) {
                return $this->window->answer((string) $head->method, $target, $headers, $port);
            }
            if ($this->hosts->isPageHost($host)) {
                return $this->pages->to(new PartQuery(
                    (string) $head->method, 'http', $host, $port, $target, $headers, $body,
                ));
            }
        } catch (\RuntimeException $e) {
            return new PageAnswer(
                500, ['Content-Type' => 'text/plain; charset=utf-8'], ['This cannot be answered: '.$e->getMessage()."\n"],
            );
        }

        return new PageAnswer(421, ['Content-Type' => 'text/plain; charset=utf-8'], ["This server does not answer to that host name.\n"]);
    }
}
