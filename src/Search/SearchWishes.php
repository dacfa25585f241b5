<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\Order;
use Ypomna\App\Search\Value\SearchWish;
use Ypomna\App\Shared\Codes;

/** What somebody looks for, as it stands in an address. */
final class SearchWishes
{
    private const NAMES = [
        'q', 'in', 'look', 'year', 'site', 'kind', 'tag', 'language', 'state', 'order', 'limit', 'after', 'fold',
    ];

    /**
     * @param array<array-key, mixed> $query
     *
     * @throws \InvalidArgumentException if something in it means nothing
     */
    public static function of(array $query): SearchWish
    {
        $values = array_fill_keys(self::NAMES, null);
        foreach (self::NAMES as $name) {
            $value = $query[$name] ?? null;
            $values[$name] = match (true) {
                null === $value || '' === $value => null,
                \is_string($value) => $value,
                default => throw new \InvalidArgumentException($name),
            };
        }
        $in = ['dossier' => null, 'item' => null, 'address' => null];
        if (null !== $values['in'] && 'everything' !== $values['in']) {
            if (1 !== preg_match('/^(dossier|item|address):('.Codes::PATTERN.')$/D', $values['in'], $m)) {
                throw new \InvalidArgumentException('in');
            }
            $in[$m[1]] = $m[2];
        }
        $one = static fn (string $name, string $pattern): ?string => null === $values[$name] || 1 === preg_match($pattern, $values[$name])
            ? $values[$name] : throw new \InvalidArgumentException($name);
        $limit = (int) ($one('limit', '/^\d{1,3}$/D') ?? '20');
        if ($limit < 1 || $limit > SearchWish::MOST || (null !== $values['kind'] && null === Kind::named($values['kind']))) {
            throw new \InvalidArgumentException('limit');
        }
        $year = $one('year', '/^\d{4}$/D');

        return new SearchWish(
            $values['q'] ?? '', $in['address'], $in['dossier'], $in['item'],
            'descriptions' === ($one('look', '/^(?:all|descriptions)$/D') ?? 'all'), null === $year ? null : (int) $year, $values['site'],
            $values['kind'], $values['language'], $values['state'], $values['tag'],
            null === $values['order'] ? Order::Relevance : Order::tryFrom($values['order']) ?? throw new \InvalidArgumentException('order'),
            $limit, $one('after', '/^\d\.\d{1,18}$/D'), 'near' === ($one('fold', '/^(?:near|each)$/D') ?? 'each'),
        );
    }
}
