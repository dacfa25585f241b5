<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\MainText;

/** Gives the article of a page without its surroundings. */
#[AsCommand('text:main', 'Gives the main text of a page without its surroundings, and says whether it is an article')]
final class MainTextCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'file', InputArgument::REQUIRED, 'An HTML file; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON document');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('file');
        $file = new GivenFile(\is_string($name) ? $name : '');
        $main = MainText::fromHtml((string) file_get_contents($file->path, false, null, 0, Document::MAX_BYTES));
        $head = implode(
            "\n",
            array_filter(
                [$main->title, $main->byline, $main->published], static fn (?string $line): bool => null !== $line && '' !== $line,
            ),
        );
        (new Output($output, true === $input->getOption('json')))->row([
            'title' => $main->title, 'byline' => $main->byline, 'published' => $main->published, 'language' => $main->language,
            'text' => $main->text,
            'isArticle' => $main->isArticle, 'confidence' => $main->confidence, 'words' => $main->words,
        ], $head."\n\n".$main->text.($main->isArticle ? '' : "\n\n(This does not look like an article.)"));

        return Command::SUCCESS;
    }
}
