<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

/**
 * What of the web belongs to a site that is to be kept.
 */
final readonly class Scope
{
    /** @var array<string, list<string>> folders in which pages begin, by host as keys write it */
    private array $places;

    /**
     * @param list<string> $seeds addresses of the pages that it begins with
     * @param int|null $depth links from there on; null for any number
     * @param list<AddressPattern> $includes if there are any, one of them has to match; the first pages need none
     * @param list<AddressPattern> $excludes none of them may match
     */
    public function __construct(
        public Reach $reach,
        array $seeds,
        public ?int $depth = null,
        public array $includes = [],
        public array $excludes = [],
    ) {
        $places = [];
        foreach ($seeds as $seed) {
            $url = Url::tryParse($seed);
            if (null !== $url && $url->isWeb()) {
                $places[Key::hostPrefix($url)][] = substr($url->path, 0, (int) strrpos($url->path, '/') + 1);
            }
        }
        $this->places = $places;
    }

    /** @param int $depth links from the first pages on */
    public function rules(Url $url, int $depth): Ruling
    {
        return match (true) {
            !$url->isWeb() => Ruling::NotWeb,
            !$this->isNear($url) => Reach::Folder === $this->reach && $this->isOfHost($url) ? Ruling::OtherFolder : Ruling::OtherHost,
            [] !== array_filter($this->excludes, static fn (AddressPattern $pattern): bool => $pattern->matches($url)) => Ruling::Excluded,
            $depth > 0 && [] !== $this->includes
                && [] === array_filter(
                    $this->includes, static fn (AddressPattern $pattern): bool => $pattern->matches($url),
                ) => Ruling::NotIncluded,
            null !== $this->depth && $depth > $this->depth => Ruling::TooDeep,
            Traps::isEndless($url) => Ruling::EndlessPath,
            default => Ruling::Taken,
        };
    }

    private function isNear(Url $url): bool
    {
        if (Reach::Below === $this->reach) {
            $host = rtrim(Key::hostPrefix($url), ' ');
            foreach (array_keys($this->places) as $place) {
                $place = rtrim($place, ' ');
                if ($host === $place || str_starts_with($host, $place.'!')) {
                    return true;
                }
            }

            return false;
        }

        return Reach::Host === $this->reach
            ? $this->isOfHost($url)
            : [] !== array_filter(
                $this->places[Key::hostPrefix($url)] ?? [],
                static fn (string $folder): bool => str_starts_with('' === $url->path ? '/' : $url->path, $folder),
            );
    }

    private function isOfHost(Url $url): bool
    {
        return isset($this->places[Key::hostPrefix($url)]);
    }
}
