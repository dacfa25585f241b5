<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Formatter\OutputFormatter;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Address\InvalidAddress;

/** Hands addresses to the workers from the command line. */
#[Allow(Right::Keep)]
#[AsCommand('capture:page', 'Asks the workers to capture pages', ['keep'])]
final class CapturePagesCommand extends Command
{
    public function __construct(
        private readonly CaptureRequests $requests,
        private readonly CaptureRepository $captures,
        private readonly CurrentPerson $person,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('plain', null, InputOption::VALUE_NONE, 'Without a browser: no script runs')
            ->addOption('missing', null, InputOption::VALUE_NONE, 'What is given are codes of captures, and what they lack is tried again')
            ->addOption('confidential', null, InputOption::VALUE_NONE, 'Only whoever asks may see them')
            ->addArgument('url', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'Addresses of pages');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $actor = $this->person->actor();
        $viewer = $this->person->viewer();
        $failed = 0;
        /** @var list<string> $urls */
        $urls = $input->getArgument('url');
        foreach ($urls as $url) {
            try {
                $job = true === $input->getOption('missing')
                    ? $this->requests->complete(
                        $actor,
                        $this->captures->byCode($viewer, $url)
                            ?? throw new InvalidAddress(\sprintf(
                                'There is no capture with the code “%s”.', mb_strimwidth($url, 0, 40, '…'),
                            )),
                    )
                    : $this->requests->ask(
                        $actor, $url, new CaptureOptions(rendered: true !== $input->getOption('plain')),
                        true === $input->getOption('confidential'),
                    );
                $output->writeln(\sprintf('%s is waiting to be captured (%s)', OutputFormatter::escape($job->url), $job->code));
            } catch (InvalidAddress $e) {
                ++$failed;
                $output->writeln('<error>'.OutputFormatter::escape($e->getMessage()).'</error>');
            }
        }

        return 0 === $failed ? Command::SUCCESS : Command::FAILURE;
    }
}
