<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\DemoPeople;
use Ypomna\App\People\OnceLinks;
use Ypomna\App\People\PeopleMail;
use Ypomna\App\People\PersonRepository;

/** What bin/start prints at its end: how one gets in. */
#[AsCommand('person:first', 'Prints a link that makes the first person, where there is nobody yet', hidden: true)]
final class FirstPersonCommand extends Command
{
    public function __construct(
        private readonly PersonRepository $people,
        private readonly OnceLinks $links,
        private readonly PeopleMail $mail,
        private readonly DemoPeople $demo,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ([] !== $this->demo->all()) {
            $this->demo->make();
            $output->writeln(
                'Open it signed in as '.$this->demo->investigator().': '.$this->mail->demoAddress($this->demo->key()),
                OutputInterface::OUTPUT_RAW,
            );
        } elseif (!$this->people->hasAny()) {
            $output->writeln(
                'Nobody can sign in yet. Become its administrator here, once and within a day: '
                    .$this->mail->address($this->links->first()),
                OutputInterface::OUTPUT_RAW,
            );
        }

        return self::SUCCESS;
    }
}
