<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Network\Concurrently;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Http\Charset;

/**
 * Fetches what a page refers to and its browser did not ask for: pictures that never came into sight, other candidates of a
 * picture, films of which only parts were asked for, what styles keep for later.
 */
final class Completion
{
    private const MOST = 300;
    private const ROUNDS = 3;

    /** @var array<string, true> */
    private array $tried = [];
    /** @var array<int, true> numbers of styles that were read */
    private array $read = [];
    /** @var array<int, true> numbers of the exchanges that were made */
    public array $made = [];

    public function __construct(private readonly Gateway $gateway, private readonly string $userAgent, private readonly string $referrer)
    {
    }

    /**
     * @param list<RequestedPart> $wanted
     * @param float $until Unix time
     *
     * @return list<RequestedPart> the same, with what styles ask for
     */
    public function fetchAll(array $wanted, float $until): array
    {
        for ($round = 0; $round < self::ROUNDS; ++$round) {
            array_push($wanted, ...$this->styles());
            $tasks = [];
            $kept = $this->kept();
            foreach ($wanted as $one) {
                foreach ($one->any as $address) {
                    if (!isset($kept[$address]) && !isset($this->tried[$address]) && \count($this->tried) < self::MOST) {
                        $this->tried[$address] = true;
                        $tasks[] = fn () => $this->fetch(Url::parse($address));
                    }
                }
            }
            if ([] === $tasks || microtime(true) >= $until) {
                break;
            }
            Concurrently::run($tasks, max(0.1, $until - microtime(true)), 6);
        }

        return $wanted;
    }

    private function fetch(Url $url): void
    {
        for ($hop = 0; $hop < 6; ++$hop) {
            $exchange = $this->gateway->fetch($url, $this->userAgent, $this->referrer);
            if (null === $exchange) {
                return;
            }
            $this->made[$exchange->number] = true;
            try {
                $next = $exchange->isAnswered() ? (new Answer($url, $exchange))->redirect() : null;
            } catch (FetchFailed) {
                return;
            }
            if (null === $next) {
                return;
            }
            $url = $next;
        }
    }

    /**
     * @return array<string, true> addresses of which all is there, or that the server has answered otherwise
     */
    private function kept(): array
    {
        $kept = [];
        foreach ($this->gateway->exchanges() as $exchange) {
            $reason = GapReason::of($exchange);
            if ((null === $reason && !$exchange->partial) || GapReason::Status === $reason || GapReason::Refused === $reason
                || GapReason::NotRecordable === $reason) {
                $kept[$exchange->url] = true;
            }
        }

        return $kept;
    }

    /**
     * @return list<RequestedPart> what styles ask for that were not read before, and frames that were fetched here
     */
    private function styles(): array
    {
        $wanted = [];
        foreach ($this->gateway->exchanges() as $exchange) {
            $isFrame = isset($this->made[$exchange->number]) && 1 === preg_match('#html#', $exchange->mime ?? '');
            if (('text/css' !== $exchange->mime && !$isFrame) || isset($this->read[$exchange->number]) || !$exchange->isAnswered()
                || $exchange->status >= 300) {
                continue;
            }
            $this->read[$exchange->number] = true;
            array_push($wanted, ...self::wantedBy($exchange, $isFrame));
        }

        return $wanted;
    }

    /**
     * @return list<RequestedPart>
     */
    private static function wantedBy(Exchange $exchange, bool $isFrame): array
    {
        try {
            $url = Url::parse($exchange->url);
            $answer = new Answer($url, $exchange);
            $bytes = $answer->text(4_194_304);
            $text = Charset::text($bytes, $answer->head->fields->get('Content-Type'));

            return $isFrame ? RequestedPart::ofHtml($text, $url) : RequestedPart::ofStyle($text, $url);
        } catch (FetchFailed) {
            return [];
        }
    }
}
