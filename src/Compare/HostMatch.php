<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Ypomna\App\Compare\Value\MatchedPage;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\Fingerprint;

/** Matches the pages of two hosts by what they say: a site that moved. */
final readonly class HostMatch
{
    private const MOST_ADDRESSES = 2_000;
    private const LEAST = 0.25;

    public function __construct(private Connection $database)
    {
    }

    /**
     * @return list<MatchedPage> pages of the first host with the page of the second that is most alike, most alike first; then those that have none
     */
    public function of(Url $one, Url $other): array
    {
        [$first, $second] = [$this->pages($one), $this->pages($other)];
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
    private function pages(Url $host): array
    {
        $place = RuleScope::Host->placeOf(AddressKeys::keyOf((string) $host));
        $rows = $this->database->fetchAllAssociative(
            'SELECT c.url, c.code, f.hashes FROM (SELECT a.id, (SELECT c.id FROM capture c WHERE c.address_id = a.id AND c.status BETWEEN 200 AND 299 ORDER BY c.captured_at DESC, c.id DESC LIMIT 1) AS newest FROM address a WHERE a.url_key >= ? AND a.url_key < ? ORDER BY a.url_key LIMIT '.self::MOST_ADDRESSES.") n JOIN capture c ON c.id = n.newest JOIN fingerprint f ON f.capture_id = c.id WHERE f.hashes <> ''",
            [$place, $place."\xFF"],
        );
        $pages = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $pages[] = [$row->text('url'), $row->text('code'), Fingerprint::unpack($row->text('hashes'))];
        }

        return $pages;
    }

    private static function path(string $url): string
    {
        return (string) preg_replace('~^[a-z]+://[^/]*~i', '', $url);
    }
}
