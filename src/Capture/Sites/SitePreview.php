<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;
use Ypomna\App\Capture\PlainVisit;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\AddressFile;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Glance;

/**
 * What a wish would take of a site: its patterns held against the links of the first page, what its sitemap names, and what is
 * held of the host already.
 */
final readonly class SitePreview
{
    private const SECONDS = 6;
    private const SEEDS = 2;
    private const HELD = 300;
    private const MAPPED = 300;
    private const REMEMBERED = 600;

    public function __construct(
        private WebAccess $web,
        private ClockInterface $clock,
        private CacheInterface $cache,
        private AddressRepository $addresses,
        private DataFolder $folder,
    ) {
    }

    /**
     * @return array{rows: list<array{url: string, ruling: Ruling}>, taken: int, told: list<string>} those that are taken first; what could
     *     not be learned, in words
     */
    public function of(Viewer $viewer, SiteOptions $wish): array
    {
        $samples = $told = [];
        foreach (\array_slice($wish->seeds, 0, self::SEEDS) as $seed) {
            $samples[$seed] = 0;
            [$links, $trouble] = $this->cache->get('site-preview-'.hash(
                'sha256', $seed.($wish->maps ? '+' : ''),
            ), function (ItemInterface $item) use ($seed, $wish): array {
                $item->expiresAfter(self::REMEMBERED);

                return $this->probe(Url::parse($seed), $wish->maps);
            });
            foreach ($links as $link) {
                $samples[$link] ??= 1;
            }
            foreach ($this->held($viewer, Url::parse($seed)) as $url) {
                $samples[$url] ??= 1;
            }
            $told = [...$told, ...$trouble];
        }
        $scope = $wish->scope();
        $rows = $keys = [];
        foreach ($samples as $address => $depth) {
            $url = Url::tryParse((string) $address);
            if (null === $url || isset($keys[AddressKeys::keyHash((string) $address)])) {
                continue;
            }
            $keys[AddressKeys::keyHash((string) $address)] = true;
            $rows[] = ['url' => (string) $url, 'ruling' => $scope->rules($url, $depth)];
        }
        $taken = \count(array_filter($rows, static fn (array $row): bool => Ruling::Taken === $row['ruling']));
        usort(
            $rows,
            static fn (array $a, array $b): int => [
                Ruling::Taken !== $a['ruling'], Ruling::OtherHost === $a['ruling'],
            ] <=> [Ruling::Taken !== $b['ruling'], Ruling::OtherHost === $b['ruling']],
        );

        return ['rows' => $rows, 'taken' => $taken, 'told' => $told];
    }

    /**
     * @return array{list<string>, list<string>} addresses, and what went wrong
     */
    private function probe(Url $seed, bool $maps): array
    {
        $folder = $this->folder->newWork('preview');
        $limits = new Limits(
            maxSeconds: self::SECONDS, maxBytes: 16_777_216, maxExchanges: 20, idleSeconds: self::SECONDS, connectSeconds: self::SECONDS,
        );
        (new Filesystem())->mkdir($folder, 0o700);
        $links = $told = [];
        try {
            $ask = new Ask(
                new Gateway(
                    $this->web->pathfinder($limits), $folder, $limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9,
                ),
                PlainVisit::USER_AGENT,
            );
            try {
                $answer = $ask->get($seed);
                $bytes = $answer->beginning(Document::MAX_BYTES);
                $links = Glance::at(Charset::text($bytes, $answer->head->fields->get('Content-Type')), $answer->url)->links;
            } catch (FetchFailed $e) {
                $told[] = $e->getMessage();
            }
            if ($maps && [] === $told) {
                try {
                    $answer = $ask->get(Url::parse($seed->origin().'/sitemap.xml'));
                    $links = [
                        ...$links,
                        ...\array_slice(
                            200 === $answer->head->status ? AddressFile::read($answer->body(), $answer->url)->pages : [], 0, self::MAPPED,
                        ),
                    ];
                } catch (FetchFailed) {
                    // Many sites have none.
                }
            }
        } finally {
            (new Filesystem())->remove($folder);
        }

        return [$links, $told];
    }

    /**
     * @return list<string>
     */
    private function held(Viewer $viewer, Url $seed): array
    {
        $prefix = Key::hostPrefix($seed);

        return $this->addresses->urls($viewer, $prefix, rtrim($prefix, ' ').'!', self::HELD);
    }
}
