<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Search\Event\NamesAsked;

/** Names of people, as somebody types them: for whoever works here, not for those who read. */
final readonly class PeopleNames
{
    public function __construct(private Connection $database, private Gate $gate)
    {
    }

    #[AsEventListener]
    public function onNamesAsked(NamesAsked $asked): void
    {
        if (null === $asked->viewer->name || !$this->gate->may($asked->viewer, Right::Keep)) {
            return;
        }
        $like = addcslashes($asked->typed, '\\%_').'%';
        foreach ($this->database->fetchFirstColumn(
            'SELECT name FROM person WHERE closed_at IS NULL AND (name LIKE ? OR name LIKE ?) ORDER BY name LIMIT '.max(1, $asked->most),
            [$like, '% '.$like],
        ) as $name) {
            if (\is_string($name)) {
                $asked->names[] = $name;
            }
        }
    }
}
