<?php

declare(strict_types=1);

namespace Ypomna\App\Archives\Console;

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
use Ypomna\App\Archives\InvalidArchive;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Shared\CurrentPerson;

/** Makes another archive known, once: the same name is not entered again. */
#[Allow(Right::Keep)]
#[AsCommand('archives:add', 'Makes another archive known that can be asked for its captures (RFC 7089)')]
final class AddArchiveCommand extends Command
{
    public function __construct(
        private readonly OtherArchives $archives,
        private readonly CurrentPerson $person,
        private readonly TranslatorInterface $translator,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'By what you know it')
            ->addOption(
                'timegate',
                null,
                InputOption::VALUE_REQUIRED,
                'What an address is put behind to ask for a moment; or with {url} where it goes',
                '',
            )
            ->addOption('timemap', null, InputOption::VALUE_REQUIRED, 'The same for the list of its captures', '');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $text = static fn (mixed $value): string => \is_string($value) ? $value : '';
        $name = $text($input->getArgument('name'));
        foreach ($this->archives->all() as $archive) {
            if ($archive->name === $name) {
                $output->writeln(\sprintf('%s is known already.', $name));

                return Command::SUCCESS;
            }
        }
        try {
            $this->archives->add($this->person->actor(), $name, $text($input->getOption('timegate')), $text($input->getOption('timemap')));
        } catch (InvalidArchive $e) {
            $output->writeln(OutputFormatter::escape($e->trans($this->translator)));

            return Command::INVALID;
        }
        $output->writeln(\sprintf('%s can be asked now.', $name));

        return Command::SUCCESS;
    }
}
