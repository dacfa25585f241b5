<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Console;

use Symfony\Component\Console\ConsoleEvents;
use Symfony\Component\Console\Event\ConsoleCommandEvent;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;

/** Commands that come with the framework and would drop tables, with what people wrote into them, are refused here. */
#[AsEventListener(event: ConsoleEvents::COMMAND)]
final class CommandGuard
{
    private const REFUSED = [
        'doctrine:database:drop', 'doctrine:schema:drop', 'doctrine:schema:update', 'doctrine:schema:create', 'doctrine:migrations:rollup',
        'doctrine:migrations:version',
    ];

    public function __invoke(ConsoleCommandEvent $event): void
    {
        $name = (string) $event->getCommand()?->getName();
        if (!\in_array($name, self::REFUSED, true)) {
            return;
        }
        $event->disableCommand();
        $event->getOutput()->writeln(\sprintf(
            '<error>%s could destroy what people wrote, so it is not to be had here. The form of the database is changed by its'
                .' migrations, at bin/start.</error>',
            $name,
        ));
    }
}
