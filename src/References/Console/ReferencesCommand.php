<?php

declare(strict_types=1);

namespace Ypomna\App\References\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Citation\UnreadableDraft;

/** Hands a document in for the sake of its references. */
#[Allow(Right::Keep)]
#[AsCommand('references', 'Finds the references of a document and has them checked')]
final class ReferencesCommand extends Command
{
    public function __construct(private readonly ReferenceLists $lists, private readonly CurrentPerson $person)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'DOCX, ODT, HTML, Markdown, PDF, BibTeX, RIS, CSL-JSON, CSV or plain text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $actor = $this->person->actor();
        $path = $input->getArgument('file');
        if (!\is_string($path) || !is_file($path) || !is_readable($path)) {
            $output->writeln(\sprintf('The file “%s” cannot be read.', \is_string($path) ? $path : ''));

            return Command::INVALID;
        }
        try {
            $list = $this->lists->begin($actor, $path, basename($path));
        } catch (UnreadableDraft $e) {
            $output->writeln(OutputFormatter::escape($e->getMessage()));

            return Command::INVALID;
        }
        $output->writeln(\sprintf(
            '%d references of %s are being checked (%s).',
            $this->lists->counts($list)['all'],
            OutputFormatter::escape($list->name),
            $list->code,
        ));

        return Command::SUCCESS;
    }
}
