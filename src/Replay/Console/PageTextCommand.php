<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Replay\PageFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Page\Passage;

/** Gives what a reader sees of a page, a passage a line. */
#[AsCommand('text:page', 'Gives the visible text of a page, a passage a line')]
final class PageTextCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'page',
            InputArgument::REQUIRED,
            'An HTML or MHTML file, or a WARC file with the address behind # and the moment behind a last @; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON document, with what each passage is');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('page');
        $page = PageFile::read(\is_string($name) ? $name : '')->document;
        (new Output($output, true === $input->getOption('json')))->row([
            'title' => $page->title,
            'language' => $page->language,
            'passages' => array_map(static fn (Passage $passage): array => [
                'kind' => $passage->kind->value, 'text' => $passage->text, 'heading' => '' === $passage->heading ? null : $passage->heading,
            ], $page->passages),
        ], $page->text());

        return Command::SUCCESS;
    }
}
