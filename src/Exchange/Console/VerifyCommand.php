<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Shared\CurrentPerson;

/** Goes through the holdings from the command line. Ends with 1 if something is not as it was. */
#[Allow(Right::Guard)]
#[AsCommand('verify', 'Recomputes the digest of every file and record, and follows the ledger’s chain')]
final class VerifyCommand extends Command
{
    public function __construct(private readonly Verifier $verifier, private readonly CurrentPerson $person)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $verification = $this->verifier->begin($this->person->actor());
        $this->verifier->run($verification);
        foreach ($verification->findings as $finding) {
            $output->writeln(\sprintf(
                '<error>%s</error> %s', OutputFormatter::escape($finding['where']), OutputFormatter::escape($finding['what']),
            ));
        }
        $findings = \count($verification->findings);
        $output->writeln(\sprintf(
            '%d files with %d records and %d ledger lines gone through: %s',
            $verification->filesDone, $verification->records, $verification->ledgerLines,
            0 === $findings ? 'everything is as it was entered.' : $findings.' findings.',
        ));

        return [] === $verification->findings ? Command::SUCCESS : Command::FAILURE;
    }
}
