<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Network\Reach\Reach;

/** What bin/start says at its end of the way on which readers come. */
#[AsCommand('public:check', 'Says what is missing so that readers reach this installation at its public address')]
final class PublicCheckCommand extends Command
{
    public function __construct(private readonly Reach $reach)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('beforehand', null, InputOption::VALUE_NONE, 'Looks at settings and files only, before a server runs');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $faults = true === $input->getOption('beforehand') ? $this->reach->beforehand() : $this->reach->faults();
        foreach ($faults as $fault) {
            $output->writeln($fault, OutputInterface::OUTPUT_RAW);
        }

        return [] === $faults ? self::SUCCESS : self::FAILURE;
    }
}
