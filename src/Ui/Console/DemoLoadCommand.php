<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\People\DemoPeople;
use Ypomna\App\Ui\Demo\DemoCaptures;
use Ypomna\App\Ui\Demo\DemoClock;
use Ypomna\App\Ui\Demo\DemoDesk;
use Ypomna\App\Ui\Demo\DemoWork;

/** Fills the demo: what its investigator captured, what she watches, what was verified and exported. */
#[AsCommand('demo:load', 'Fills the demo with captures, watches and their events')]
final class DemoLoadCommand extends Command
{
    public function __construct(
        private readonly DemoClock $clock,
        private readonly DemoCaptures $captures,
        private readonly DemoWork $work,
        private readonly DemoPeople $people,
        private readonly DemoDesk $desk,
        #[Autowire('%env(default::YPOMNA_MODE)%')] private readonly ?string $mode,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        // What is entered in a ledger stays there: invented captures have no place in anybody's evidence.
        if ('demo' !== $this->mode) {
            $output->writeln(
                '<error>This data folder is no demo; invented pages are not mixed with real captures. Start a demo in a folder of'
                    .' its own: bin/start --data FOLDER</error>',
            );

            return Command::FAILURE;
        }
        $this->people->make();
        $day = $this->clock->now();
        try {
            $captures = $this->captures->load();
            $this->work->begin();
        } finally {
            $this->clock->set($day);
        }
        $this->desk->begin();
        $this->work->order();
        $output->writeln(\sprintf('%d captures of the demo are in.', $captures));

        return Command::SUCCESS;
    }
}
