<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\Standin\Web\Clock;

/** Shows or sets the clock of the stand-in web, which the demo follows. */
#[AsCommand('standin:clock', 'Shows or sets the clock of the stand-in web')]
final class StandinClockCommand extends Command
{
    public function __construct(#[Autowire('%env(CLOCK_DSN)%')] private readonly string $clockDsn)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('moment', InputArgument::OPTIONAL, 'For example 2024-11-16 or 2024-11-16T10:00Z');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if (!str_starts_with($this->clockDsn, 'standin:')) {
            $output->writeln('<error>This installation keeps real time; only the demo’s clock can be set.</error>');

            return Command::FAILURE;
        }
        $clock = new Clock(substr($this->clockDsn, 8));
        $moment = $input->getArgument('moment');
        try {
            $now = \is_string($moment) ? $clock->set($moment) : $clock->now();
        } catch (\InvalidArgumentException $e) {
            $output->writeln('<error>'.$e->getMessage().'</error>');

            return Command::FAILURE;
        }
        $output->writeln($now->format('Y-m-d H:i:s').' UTC');

        return Command::SUCCESS;
    }
}
