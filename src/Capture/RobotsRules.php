<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Robots;

/** What the hosts of a capture say to programs: asked once each, over the capture's gateway. */
final class RobotsRules
{
    public const AGENT = 'ypomna';

    /** @var array<string, Robots> by origin */
    private array $said = [];
    /** @var array<string, array{status: int|null, text: string}> by origin */
    private array $texts = [];
    /** @var array<string, Exchange> requests that nobody answered, by origin */
    private array $unanswered = [];
    /** @var array<int, true> numbers of the exchanges that brought them */
    public array $exchanges = [];

    private ?Gateway $gateway = null;

    public function __construct(private readonly string $userAgent)
    {
    }

    /** Over which gateway it is asked. */
    public function over(Gateway $gateway): void
    {
        $this->gateway = $gateway;
    }

    public function allows(Url $url): bool
    {
        return '/robots.txt' === $url->path || $this->of($url)->allows($url);
    }

    public function of(Url $url): Robots
    {
        return $this->said[$url->origin()] ??= $this->ask($url);
    }

    /** The request for a host's rules that nobody answered: then there is nobody to ask for pages either. */
    public function unanswered(Url $url): ?Exchange
    {
        return $this->unanswered[$url->origin()] ?? null;
    }

    /** Whether a host could not say what it asks of programs: it was out of reach, or failed (RFC 9309, section 2.3.1.4). */
    public function isSilent(Url $url): bool
    {
        $told = $this->texts[$url->origin()] ?? null;

        return null !== $told && (null === $told['status'] || $told['status'] >= 500);
    }

    /** It is asked again when it is needed next. */
    public function forget(Url $url): void
    {
        unset($this->said[$url->origin()], $this->texts[$url->origin()], $this->unanswered[$url->origin()]);
    }

    /**
     * What was said, for the record.
     *
     * @return array<string, array{status: int|null, text: string}>
     */
    public function texts(): array
    {
        return $this->texts;
    }

    private function ask(Url $url): Robots
    {
        $at = Url::parse($url->origin().'/robots.txt');
        [$status, $text] = [null, ''];
        for ($hop = 0; $hop < 5; ++$hop) {
            $exchange = $this->gateway?->fetch($at, $this->userAgent);
            if ($exchange instanceof Exchange) {
                $this->exchanges[$exchange->number] = true;
            }
            if (true !== $exchange?->isAnswered()) {
                if (null !== $exchange) {
                    $this->unanswered[$url->origin()] = $exchange;
                }
                break;
            }
            try {
                $answer = new Answer($at, $exchange);
                $status = $answer->head->status;
                $next = $answer->redirect();
                if (null === $next) {
                    $text = 200 === $status ? $answer->text(4 * Robots::MAX_BYTES) : '';
                    break;
                }
                $at = $next;
            } catch (FetchFailed) {
                break;
            }
        }
        $this->texts[$url->origin()] = ['status' => $status, 'text' => mb_strcut(mb_scrub($text), 0, 65_536)];

        return Robots::answered($status, $text, self::AGENT);
    }
}
