<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Catalogue\MadeUpHoldings;

/** For whoever wants to see how large holdings behave. */
#[AsCommand('catalogue:fill', 'Fills an empty catalogue with made-up captures, to try how the application behaves with many')]
final class FillCommand extends Command
{
    public function __construct(private readonly MadeUpHoldings $holdings)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('captures', InputArgument::OPTIONAL, 'How many', '1000000')->setHelp(
            'No files stand behind these captures: they are found and listed, and cannot be read. Never in a catalogue that holds'
                .' anything: start an empty installation of its own with bin/start --data FOLDER --empty.',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $given = $input->getArgument('captures');
        $captures = \is_string($given) && ctype_digit($given) ? (int) $given : 0;
        if ($captures < MadeUpHoldings::FEWEST) {
            $output->writeln(\sprintf('<error>Give a number of captures, %d or more.</error>', MadeUpHoldings::FEWEST));

            return Command::INVALID;
        }
        if (!$this->holdings->isPossible()) {
            $output->writeln('<error>This catalogue is not empty; made-up captures are not mixed with others.</error>');

            return Command::FAILURE;
        }
        $busy = $this->holdings->fill($captures);
        $output->writeln(\sprintf('%d captures are in, %d of them of one address.', $captures, $busy));

        return Command::SUCCESS;
    }
}
