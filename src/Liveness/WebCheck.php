<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Network\WebAccess;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Http\CookieJar;
use Ypomna\Core\Liveness\Asker;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Page\Refresh;

/** Looks at addresses of the web, through the guard, with limits; nothing of it is kept. */
final readonly class WebCheck implements Asker
{
    /** Of a body, codings taken off. */
    public const MOST = 8_388_608;
    private const AGENT = 'Mozilla/5.0 (compatible; Ypomna/0.1; live check)';
    private const REDIRECTS = 20;
    private const REPEATS = 2;
    /** How long a reader would wait for a page that sends on by itself, in seconds. */
    private const PATIENCE = 30;
    /** How long a check waits for its turn at a host, in seconds; the host has that long to answer others. */
    private const TURN = 240.0;
    private const FIELDS = "Accept-Language: en, *;q=0.5\r\n";

    /**
     * @param int $seconds for a whole check, redirects included
     * @param HostSlots|null $slots where many checks are taken at once: how many of them at one host
     * @param int $most bytes of a body that are judged, codings taken off
     */
    public function __construct(
        private WebAccess $web,
        private int $seconds = 30,
        private ?HostSlots $slots = null,
        private int $most = self::MOST,
    ) {
    }

    /** @param string $conditions header fields of the first request, by which a server may say that nothing changed */
    public function check(Url $url, string $conditions = ''): CheckResult
    {
        $folder = sys_get_temp_dir().'/ypomna-look-'.bin2hex(random_bytes(8));
        $files = new Filesystem();
        $files->mkdir($folder, 0o700);
        try {
            $limits = new Limits(
                maxSeconds: $this->seconds,
                maxBytes: 8 * $this->most,
                maxExchanges: 2 * self::REDIRECTS,
                idleSeconds: $this->seconds,
                connectSeconds: min(10, $this->seconds),
            );
            // Waiting for one's turn at a host is not the server's slowness.
            $waited = 0.0;
            $now = static fn (): \DateTimeImmutable => new \DateTimeImmutable();
            $gateway = new Gateway($this->web->pathfinder($limits), $folder, $limits, $now, static function () use (&$waited): float {
                return microtime(true) - $waited;
            });

            return $this->follow($gateway, $url->withoutFragment(), $waited, $conditions);
        } finally {
            $files->remove($folder);
        }
    }

    private function follow(Gateway $gateway, Url $asked, float &$waited, string $conditions): CheckResult
    {
        $jar = new CookieJar();
        $hops = $times = [];
        $at = $asked;
        while (true) {
            $times[(string) $at] = 1 + ($times[(string) $at] ?? 0);
            if (\count($hops) > self::REDIRECTS || $times[(string) $at] > self::REPEATS) {
                return new CheckResult(
                    $asked, $at, $hops, null, failure: LiveReason::RedirectLoop, message: 'The redirects do not end: '.$at.' came again.',
                );
            }
            $exchange = $this->fetch($gateway, $at, $jar, $waited, [] === $hops ? $conditions : '');
            $hops[] = ['url' => (string) $at, 'status' => $exchange?->status];
            $failed = self::failure($exchange);
            if (null !== $failed || null === $exchange) {
                return new CheckResult(
                    $asked,
                    $at,
                    $hops,
                    $exchange?->status,
                    failure: $failed ?? LiveReason::Timeout,
                    message: $exchange->message ?? 'There was no complete answer in time.',
                );
            }
            try {
                $answer = new Answer($at, $exchange);
                $jar->take($at, $answer->head->fields->all('Set-Cookie'), new \DateTimeImmutable());
                if ($exchange->status >= 300 && $exchange->status < 400 && 304 !== $exchange->status) {
                    $next = $answer->redirect();
                    if (null === $next) {
                        return new CheckResult(
                            $asked,
                            $at,
                            $hops,
                            $exchange->status,
                            failure: LiveReason::BadResponse,
                            message: \sprintf(
                                'The server answered with status %d and named no address of the web to go to.', $exchange->status,
                            ),
                        );
                    }
                    $at = $next;
                    continue;
                }
                $body = $answer->beginning($this->most);
                $type = $answer->head->fields->get('Content-Type') ?? '';
                $isHtml = '' === $type || 1 === preg_match('#html#i', $type);
                $next = 200 !== $exchange->status
                    ? null
                    : (Refresh::field($answer->head->fields->get('Refresh') ?? '', $at, self::PATIENCE)
                        ?? ($isHtml ? Refresh::target($body, $type, $at, self::PATIENCE) : null));
                if (null !== $next) {
                    $at = $next;
                    continue;
                }

                return new CheckResult(
                    $asked, $at, $hops, $exchange->status, $exchange->mime, $type, substr($body, 0, $this->most),
                    etag: $answer->head->fields->get('ETag'), modified: $answer->head->fields->get('Last-Modified'),
                );
            } catch (FetchFailed $e) {
                return new CheckResult($asked, $at, $hops, $exchange->status, failure: LiveReason::BadResponse, message: $e->getMessage());
            }
        }
    }

    private function fetch(Gateway $gateway, Url $at, CookieJar $jar, float &$waited, string $conditions): ?Exchange
    {
        $since = microtime(true);
        $fetch = static function () use ($gateway, $at, $jar, $since, $conditions, &$waited): ?Exchange {
            $waited += microtime(true) - $since;

            return $gateway->fetch($at, self::AGENT, null, $jar->header($at, new \DateTimeImmutable()), self::FIELDS.$conditions);
        };

        return null === $this->slots ? $fetch() : $this->slots->within((string) $at->host, $fetch, self::TURN);
    }

    private static function failure(?Exchange $exchange): ?LiveReason
    {
        return match (true) {
            null === $exchange => LiveReason::Timeout,
            null !== $exchange->failure => match ($exchange->failure) {
                FailureReason::NoHost => LiveReason::NoHost,
                FailureReason::Dns => LiveReason::Dns,
                FailureReason::Refused, FailureReason::Guarded => LiveReason::Refused,
                FailureReason::Timeout => LiveReason::Timeout,
                FailureReason::Tls => LiveReason::Tls,
                FailureReason::Limit => 'time' === $exchange->truncated ? LiveReason::Timeout : null,
                default => LiveReason::BadResponse,
            },
            'disconnect' === $exchange->truncated => LiveReason::BadResponse,
            'time' === $exchange->truncated => LiveReason::Timeout,
            !$exchange->isAnswered() => LiveReason::BadResponse,
            default => null,
        };
    }
}
