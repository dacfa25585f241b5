<?php

declare(strict_types=1);

namespace Ypomna\App\Store\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Store\MirroredLedger;

/** Writes a ledger file that is lost or cut off again from its mirror in the database. */
#[AsCommand('ledger:restore', 'Writes a lost or cut-off ledger file again from its mirror in the database')]
final class RestoreLedgerCommand extends Command
{
    public function __construct(private readonly MirroredLedger $ledger)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $lines = $this->ledger->restore();
        } catch (\RuntimeException $e) {
            $output->writeln('<error>'.OutputFormatter::escape($e->getMessage()).'</error>');

            return Command::FAILURE;
        }
        $output->writeln(\sprintf('%d lines were written again from the mirror. Run bin/ypomna verify.', $lines));

        return Command::SUCCESS;
    }
}
