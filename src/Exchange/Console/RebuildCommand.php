<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Exchange\CatalogueRebuilder;
use Ypomna\App\Exchange\RebuildRefused;

/** Makes the catalogue anew from the files and the ledger. Ends with 1 if a file of the ledger is not in the store. */
#[AsCommand('catalogue:rebuild', 'Makes the catalogue anew from the files of the store and the ledger')]
final class RebuildCommand extends Command
{
    public function __construct(private readonly CatalogueRebuilder $rebuild)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption(
            'without-missing',
            null,
            InputOption::VALUE_NONE,
            'Go on although files of the ledger are not in the store; their captures are then missing from the catalogue',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $missing = [];
        try {
            $done = $this->rebuild->run(static function (string $path, ?string $problem) use ($output, &$missing): void {
                if (null !== $problem) {
                    $missing[] = $path;
                    $output->writeln(\sprintf('<error>%s</error> %s', OutputFormatter::escape($path), OutputFormatter::escape($problem)));
                }
            }, true === $input->getOption('without-missing'));
        } catch (RebuildRefused $e) {
            $output->writeln('<error>'.OutputFormatter::escape($e->getMessage()).'</error>');
            foreach (\array_slice($e->what, 0, 50) as $what) {
                $output->writeln('  '.OutputFormatter::escape($what));
            }

            return Command::FAILURE;
        }
        $output->writeln(\sprintf(
            'The catalogue was made anew from %d files%s.',
            $done,
            [] === $missing ? '' : \sprintf('; %d could not be read', \count($missing)),
        ));

        return [] === $missing ? Command::SUCCESS : Command::FAILURE;
    }
}
