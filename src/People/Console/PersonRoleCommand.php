<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\Shared\CurrentPerson;

/** Gives somebody another role; it holds at their next request. */
#[AsCommand('person:role', 'Gives a person another role')]
final class PersonRoleCommand extends Command
{
    use SaysWhatWasRefused;

    public function __construct(private readonly PersonChanges $changes, private readonly CurrentPerson $current)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'Their name')
            ->addArgument('role', InputArgument::REQUIRED, 'reader, keeper, custodian or administrator');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->orRefused($output, function () use ($input, $output): int {
            $person = $this->person(self::text($input->getArgument('name')));
            $this->changes->setRole($this->current->actor(), $person, self::role(self::text($input->getArgument('role'))));
            $output->writeln(\sprintf('%s is a %s now.', $person->name, $person->role->value), OutputInterface::OUTPUT_RAW);

            return self::SUCCESS;
        });
    }
}
