<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Access\Grants;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\WatchScope;

/** What watches told of captures is seen as they are; an address that is held for some only is watched for some only. */
#[AsEventListener]
final readonly class LimitedWatches
{
    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private CaptureMaintenance $captures,
        private WatchedPages $pages,
        private Grants $grants,
    ) {
    }

    public function __invoke(CapturesLimited $event): void
    {
        if ($event->limited) {
            foreach (['capture_before', 'capture_after'] as $column) {
                $this->database->executeStatement(
                    "UPDATE watch_event SET limited_by = {$column} WHERE {$column} IN (?)", [$event->codes], [ArrayParameterType::STRING],
                );
            }
        } else {
            $this->database->executeStatement(
                'UPDATE watch_event SET limited_by = NULL WHERE limited_by IN (?)', [$event->codes], [ArrayParameterType::STRING],
            );
        }
        $confidential = [];
        foreach ($this->captures->addresses($event->addresses) as $address) {
            if ($address['confidential']) {
                $confidential[$address['key_hash']] = true;
            }
        }
        if ([] !== $confidential) {
            $this->watches($confidential);
            $this->pages->leaveOut(array_map(\strval(...), array_keys($confidential)));
        }
    }

    /** @param array<string, true> $keys hashes of keys, hex */
    private function watches(array $keys): void
    {
        $query = $this->entities->createQuery('SELECT w.id, w.code, w.target, w.agent FROM '.Watch::class.' w'
            .' WHERE w.scope = :scope AND w.limited = false')->setParameter('scope', WatchScope::Address->value);
        /** @var list<array{id: int, code: string, target: string, agent: string}> $watches */
        $watches = $query->getArrayResult();
        foreach ($watches as $watch) {
            if (isset($keys[AddressKeys::keyHash($watch['target'])])) {
                $this->database->update('watch', ['limited' => 1], ['id' => $watch['id']]);
                $this->grants->made([$watch['code']], $watch['agent']);
            }
        }
    }
}
