<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\Tokens;
use Ypomna\App\Shared\CurrentPerson;

/** Shuts a program out. */
#[AsCommand('token:end', 'Ends a token at once')]
final class TokenEndCommand extends Command
{
    use SaysWhatWasRefused;

    public function __construct(private readonly Tokens $tokens, private readonly CurrentPerson $current)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('id', InputArgument::REQUIRED, 'Its number, as token:add told it');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->orRefused($output, function () use ($input, $output): int {
            $this->tokens->end($this->current->actor(), self::text($input->getArgument('id')));
            $output->writeln('It is ended.');

            return self::SUCCESS;
        });
    }
}
