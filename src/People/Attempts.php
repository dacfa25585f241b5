<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;
use Ypomna\App\Access\ReaderNetwork;

/**
 * Counts attempts to sign in. Each is counted before it is looked at, so that many at once count too; a name that nobody has counts as one
 * that somebody has.
 */
final readonly class Attempts
{
    public function __construct(
        #[Autowire(service: 'limiter.sign_in')] private RateLimiterFactoryInterface $both,
        #[Autowire(service: 'limiter.sign_in_name')] private RateLimiterFactoryInterface $name,
        #[Autowire(service: 'limiter.sign_in_network')] private RateLimiterFactoryInterface $network,
        #[Autowire(service: 'limiter.second_step')] private RateLimiterFactoryInterface $codes,
        #[Autowire(service: 'limiter.second_step_day')] private RateLimiterFactoryInterface $codesOfDay,
        #[Autowire(service: 'limiter.ask_reset')] private RateLimiterFactoryInterface $resets,
        #[Autowire(service: 'limiter.pairing')] private RateLimiterFactoryInterface $pairings,
        #[Autowire(service: 'limiter.pairing_all')] private RateLimiterFactoryInterface $allPairings,
        #[Autowire(service: 'limiter.throttled_note')] private RateLimiterFactoryInterface $notes,
    ) {
    }

    /**
     * @param string $typedName that of the person, if it is somebody's: however it is spelt, it is the same attempt
     *
     * @throws TooManyAttempts
     */
    public function password(string $typedName, string $ip): void
    {
        $name = self::plain($typedName);
        $network = ReaderNetwork::of($ip);
        $this->count([[$this->both, $name.' '.$network], [$this->name, $name], [$this->network, $network]]);
    }

    /** Somebody was let in: their own slips are forgotten, what others tried from there is not. */
    public function succeeded(string $typedName, string $ip): void
    {
        $this->both->create(hash('sha256', self::plain($typedName).' '.ReaderNetwork::of($ip)))->reset();
    }

    /** @throws TooManyAttempts */
    public function code(int $person): void
    {
        $this->count([[$this->codes, 'person '.$person], [$this->codesOfDay, 'person '.$person]]);
    }

    public function codeSucceeded(int $person): void
    {
        $this->codes->create(hash('sha256', 'person '.$person))->reset();
    }

    /** @throws TooManyAttempts */
    public function reset(string $ip): void
    {
        $this->count([[$this->resets, ReaderNetwork::of($ip)]]);
    }

    /**
     * Codes of browsers that pair: whoever guesses does so for everybody's at once, so all of them are counted together, too.
     *
     * @throws TooManyAttempts
     */
    public function pairing(string $ip): void
    {
        $this->count([[$this->pairings, ReaderNetwork::of($ip)], [$this->allPairings, 'all']]);
    }

    /**
     * @param list<array{RateLimiterFactoryInterface, string}> $counters
     *
     * @throws TooManyAttempts
     */
    private function count(array $counters): void
    {
        $until = null;
        $refused = '';
        foreach ($counters as [$counter, $key]) {
            $limit = $counter->create(hash('sha256', $key))->consume();
            if (!$limit->isAccepted()) {
                $until = max($until, $limit->getRetryAfter()->getTimestamp());
                $refused = $key;
            }
        }
        if (null !== $until) {
            throw new TooManyAttempts(max(1, $until - time()), $this->notes->create(hash('sha256', $refused))->consume()->isAccepted());
        }
    }

    /** As the database holds names to be the same: however they are spaced, and whatever capitals and accents they have. */
    private static function plain(string $typedName): string
    {
        $name = trim((string) preg_replace('/[\p{Z}\s]+/u', ' ', mb_scrub(substr($typedName, 0, 500))));
        $apart = \Normalizer::normalize($name, \Normalizer::FORM_KD);

        return mb_strtolower((string) preg_replace('/\p{M}+/u', '', \is_string($apart) ? $apart : $name));
    }
}
