<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Exchange\Importer;

/** Takes in the WARC files that ship as a demo, as anybody's files are taken in. */
#[AsCommand('demo:load', 'Takes in the demo’s WARC files')]
final class DemoLoadCommand extends Command
{
    public function __construct(
        private readonly Importer $importer,
        #[Autowire('%kernel.project_dir%/demo')] private readonly string $folder,
        #[Autowire('%env(default::YPOMNA_MODE)%')] private readonly ?string $mode,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        // What is entered in a ledger stays there: invented captures have no place in anybody's evidence.
        if ('demo' !== $this->mode) {
            $output->writeln(
                '<error>This data folder is no demo; invented pages are not mixed with what is kept in it. Start a demo in a folder of'
                    .' its own: bin/start --data FOLDER</error>',
            );

            return Command::FAILURE;
        }
        $captures = 0;
        $files = glob($this->folder.'/*.warc.gz');
        foreach (false === $files ? [] : $files as $file) {
            $captures += $this->importer->file($file)->captures;
        }
        $output->writeln(\sprintf('%d captures of the demo are in.', $captures));

        return Command::SUCCESS;
    }
}
