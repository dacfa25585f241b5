<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** What somebody looks for, and how they want it. */
final readonly class SearchWish
{
    public const MOST = 100;

    /**
     * @param string|null $address code of the one that is looked through; null: all
     * @param string|null $dossier code of the one that is looked through
     * @param string|null $item code of the one that is looked through
     * @param string|null $after cursor of the result that was shown last
     * @param bool $foldsNear whether pages that are much alike are one result
     */
    public function __construct(
        public string $asked,
        public ?string $address = null,
        public ?string $dossier = null,
        public ?string $item = null,
        public bool $onlyDescriptions = false,
        public ?int $year = null,
        public ?string $site = null,
        public ?string $kind = null,
        public ?string $language = null,
        public ?string $state = null,
        public ?string $tag = null,
        public Order $order = Order::Relevance,
        public int $limit = 20,
        public ?string $after = null,
        public bool $foldsNear = false,
    ) {
    }
}
