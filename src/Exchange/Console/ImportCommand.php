<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\ImportResult;
use Ypomna\App\Shared\CurrentPerson;

/** Takes in files from the command line. */
#[Allow(Right::Keep)]
#[AsCommand('import', 'Takes files into the holdings: WARC, MHTML, mail, HTML with its folder, PDF, pictures')]
final class ImportCommand extends Command
{
    public function __construct(
        private readonly Importer $importer,
        private readonly TranslatorInterface $translator,
        private readonly CurrentPerson $person,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('confidential', null, InputOption::VALUE_NONE, 'Only whoever hands them in may see what they bring')
            ->addArgument('file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'Files; what they are is told from their content');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $failed = 0;
        /** @var list<string> $files */
        $files = $input->getArgument('file');
        foreach ($files as $file) {
            try {
                $taken = $this->importer->file($file, $this->person->actor(), true === $input->getOption('confidential'));
                $output->writeln(OutputFormatter::escape(self::line($taken)));
            } catch (UnusableFile $e) {
                ++$failed;
                $output->writeln('<error>'.OutputFormatter::escape($e->trans($this->translator)).'</error>');
            }
        }

        return 0 === $failed ? Command::SUCCESS : Command::FAILURE;
    }

    private static function line(ImportResult $taken): string
    {
        if ($taken->known) {
            return \sprintf('%s: known already, by its digest', $taken->name);
        }
        $line = \sprintf('%s: imported, %d records, %d captures', $taken->name, $taken->records, $taken->captures);
        foreach ($taken->findings as $finding) {
            $line .= \sprintf("\n  %s: %s", $finding->code->value, $finding->message);
        }

        return $line;
    }
}
