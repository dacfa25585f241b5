<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Value\NewestCapture;
use Ypomna\App\Compare\Value\MatchedPage;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\Fingerprint;

/** Matches the pages of two hosts by what they say: a site that moved. */
final readonly class HostMatch
{
    private const MOST_ADDRESSES = 2_000;
    private const LEAST = 0.25;

    public function __construct(private CaptureLists $lists, private Fingerprints $fingerprints)
    {
    }

    /**
     * @return list<MatchedPage> pages of the first host with the page of the second that is most alike, most alike first; then those that
     *     have none
     */
    public function of(Viewer $viewer, Url $one, Url $other): array
    {
        [$first, $second] = [$this->pages($viewer, $one), $this->pages($viewer, $other)];
        $bands = [];
        foreach ($second as $n => [, , $fingerprint]) {
            foreach ($fingerprint->bands() as $band => $value) {
                $bands[$band.' '.$value][] = $n;
            }
        }
        $matched = [];
        foreach ($first as [$url, $code, $fingerprint]) {
            $candidates = [];
            foreach ($fingerprint->bands() as $band => $value) {
                foreach ($bands[$band.' '.$value] ?? [] as $n) {
                    $candidates[$n] = true;
                }
            }
            $best = new MatchedPage($url, $code, null, null, 0.0);
            foreach (array_keys($candidates) as $n) {
                $likeness = $fingerprint->likeness($second[$n][2]);
                // Of pages that are equally alike, the one at the same path.
                $score = $likeness + (self::path($url) === self::path($second[$n][0]) ? 0.01 : 0.0);
                if ($score >= self::LEAST && $score > $best->likeness) {
                    $best = new MatchedPage($url, $code, $second[$n][0], $second[$n][1], min(1.0, $score));
                }
            }
            $matched[] = $best;
        }
        usort($matched, static fn (MatchedPage $a, MatchedPage $b): int => [$b->likeness, $a->url] <=> [$a->likeness, $b->url]);

        return $matched;
    }

    /**
     * The newest living capture of each address of a host.
     *
     * @return list<array{string, string, Fingerprint}>
     */
    private function pages(Viewer $viewer, Url $host): array
    {
        $place = RuleScope::Host->placeOf(AddressKeys::keyOf((string) $host));
        $newest = $this->lists->newestAlive($viewer, [$place, $place."\xFF"], self::MOST_ADDRESSES);
        $fingerprints = $this->fingerprints->ofCaptures(array_map(static fn (NewestCapture $one): int => $one->id, $newest));
        $pages = [];
        foreach ($newest as $one) {
            if (isset($fingerprints[$one->id])) {
                $pages[] = [$one->url, $one->code, $fingerprints[$one->id]];
            }
        }

        return $pages;
    }

    private static function path(string $url): string
    {
        return (string) preg_replace('~^[a-z]+://[^/]*~i', '', $url);
    }
}
