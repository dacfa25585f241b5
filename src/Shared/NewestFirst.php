<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\RequestStack;

/** What was begun so far, newest first and some at a time; `before` in the address goes on behind the last one shown. */
final readonly class NewestFirst
{
    public const AT_ONCE = 30;

    public function __construct(private EntityManagerInterface $entities, private RequestStack $requests)
    {
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class with a numeric id that rises
     * @param string $where a further condition for entities `e`
     * @param array<string, string> $parameters of that
     * @param int|null $before number of the one that was shown last; null: as the address says
     *
     * @return list<T>
     */
    public function of(
        string $class,
        string $where = '1 = 1',
        array $parameters = [],
        int $most = self::AT_ONCE,
        ?int $before = null,
    ): array {
        $before ??= $this->requests->getCurrentRequest()?->query->getInt('before') ?? 0;
        $query = $this->entities->createQuery(\sprintf(
            'SELECT e FROM %s e WHERE %s%s ORDER BY e.id DESC', $class, $where, $before > 0 ? ' AND e.id < :before' : '',
        ))
            ->setMaxResults($most);
        foreach ($parameters as $name => $value) {
            $query->setParameter($name, $value);
        }
        if ($before > 0) {
            $query->setParameter('before', $before);
        }
        $found = $query->getResult();

        return array_values(array_filter(\is_array($found) ? $found : [], static fn (mixed $one): bool => $one instanceof $class));
    }
}
