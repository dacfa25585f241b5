<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\Shared\CurrentPerson;

/** Shuts somebody out, at once and everywhere. What they did stays under their name. */
#[AsCommand('person:close', 'Closes a person: they are signed out and cannot sign in again')]
final class PersonCloseCommand extends Command
{
    use SaysWhatWasRefused;

    public function __construct(private readonly PersonChanges $changes, private readonly CurrentPerson $current)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'Their name')
            ->addOption('undo', null, InputOption::VALUE_NONE, 'Opens a closed person again');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->orRefused($output, function () use ($input, $output): int {
            $person = $this->person(self::text($input->getArgument('name')));
            if (true === $input->getOption('undo')) {
                $this->changes->open($this->current->actor(), $person);
            } else {
                $this->changes->close($this->current->actor(), $person);
            }
            $state = $person->isClosed() ? 'closed' : 'open';
            $output->writeln(\sprintf('%s is %s now.', $person->name, $state), OutputInterface::OUTPUT_RAW);

            return self::SUCCESS;
        });
    }
}
