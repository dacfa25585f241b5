<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\LazyCommand;
use Symfony\Component\Console\ConsoleEvents;
use Symfony\Component\Console\Event\ConsoleCommandEvent;
use Symfony\Component\Console\Exception\RuntimeException;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Symfony\Component\Security\Core\Authentication\Token\UsernamePasswordToken;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Gate;

/**
 * Whoever a command is to act for (`--as`). As routes do, a command says which right it asks for; one that says nothing acts for the system
 * alone.
 */
#[AsEventListener(event: ConsoleEvents::COMMAND)]
final readonly class ActingPerson
{
    private const CANNOT_WORK = 2;

    public function __construct(private PersonRepository $people, private Gate $gate, private TokenStorageInterface $tokens)
    {
    }

    public function __invoke(ConsoleCommandEvent $event): void
    {
        $name = $event->getInput()->hasOption('as') ? $event->getInput()->getOption('as') : null;
        if (!\is_string($name)) {
            return;
        }
        $person = $this->people->named($name);
        if (null === $person || $person->isClosed()) {
            throw new RuntimeException(\sprintf('Nobody here is called “%s”.', $name), self::CANNOT_WORK);
        }
        $account = new CommandAccount($person->name, $person->role, $person->zone);
        $command = $event->getCommand();
        $right = null === $command ? null : self::right($command instanceof LazyCommand ? $command->getCommand() : $command);
        if (null === $right) {
            throw new RuntimeException('This command acts for the system alone, and for no person.', self::CANNOT_WORK);
        }
        if (!$this->gate->may($account->viewer(), $right->right)) {
            throw new RuntimeException(\sprintf('The role of %s does not allow it.', $person->name), self::CANNOT_WORK);
        }
        $this->tokens->setToken(new UsernamePasswordToken($account, 'command', $account->getRoles()));
    }

    private static function right(Command $command): ?Allow
    {
        $found = (new \ReflectionClass($command))->getAttributes(Allow::class);

        return [] === $found ? null : $found[0]->newInstance();
    }
}
