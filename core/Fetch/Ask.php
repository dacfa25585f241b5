<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\Url;

/** Asks for addresses one by one, over the gateway: guarded, limited, and followed where a server sends one on. */
final readonly class Ask
{
    private const REDIRECTS = 6;

    public function __construct(private Gateway $gateway, private string $userAgent)
    {
    }

    /**
     * @param array<string, string> $fields of the request, beside the usual ones
     * @param bool $follow whether to go where the server sends one on
     *
     * @return Answer the last one, of whatever status
     *
     * @throws FetchFailed if there was none
     */
    public function get(Url $url, array $fields = [], bool $follow = true): Answer
    {
        for ($hop = 0; $hop <= self::REDIRECTS; ++$hop) {
            $answer = $this->once($url, $fields);
            $next = $follow ? $answer->redirect() : null;
            if (null === $next) {
                return $answer;
            }
            $url = $next;
        }
        throw new FetchFailed(FailureReason::BadResponse, \sprintf('%s sends on and on.', $url->host));
    }

    /**
     * @param array<string, string> $fields
     */
    private function once(Url $url, array $fields): Answer
    {
        $request = 'GET '.$url->target()." HTTP/1.1\r\nHost: ".$url->authority()."\r\n";
        foreach ($fields + [
            'User-Agent' => $this->userAgent, 'Accept' => '*/*', 'Accept-Encoding' => 'gzip', 'Connection' => 'close',
        ] as $name => $value) {
            $request .= $name.': '.preg_replace('/[\x00-\x1f\x7f]+/', ' ', $value)."\r\n";
        }
        $exchange = null;
        $this->gateway->serve(
            new LoneRequest($request."\r\n"),
            'https' === $url->scheme,
            static function (Exchange $begun) use (&$exchange): void { $exchange = $begun; },
        );
        if (!$exchange instanceof Exchange || !$exchange->isAnswered() || null !== $exchange->failure) {
            throw new FetchFailed(
                $exchange->failure ?? FailureReason::Limit,
                $exchange->message ?? \sprintf('%s was not asked: the limit is reached.', $url->host),
            );
        }

        return new Answer($url, $exchange);
    }
}
