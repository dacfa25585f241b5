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
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Exchange\ExportBuilder;
use Ypomna\App\Exchange\ExportFailed;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Shared\CurrentPerson;

/** Puts captures together in a folder, from the command line. */
#[Allow(Right::Keep)]
#[AsCommand('export', 'Exports captures, or all holdings, into a folder with a manifest that sha256sum -c reads', ['give-out'])]
final class ExportCommand extends Command
{
    public function __construct(
        private readonly ExportBuilder $builder,
        private readonly AddressRepository $addresses,
        private readonly TranslatorInterface $translator,
        private readonly CurrentPerson $person,
        private readonly Gate $gate,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('folder', InputArgument::REQUIRED, 'A folder that is new or empty')
            ->addOption(
                'capture',
                null,
                InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY,
                'The code of a capture, as in its permanent address',
            )
            ->addOption('address', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'An address: all its captures')
            ->addOption('all', null, InputOption::VALUE_NONE, 'Everything that is held, with the ledger')
            ->addOption('mhtml', null, InputOption::VALUE_NONE, 'Pages in one MHTML file instead of WARC')
            ->addOption('scripts', null, InputOption::VALUE_NONE, 'Of MHTML: scripts stay')
            ->addOption('roll', null, InputOption::VALUE_REQUIRED, 'Begin another WARC file at so many bytes');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $viewer = $this->person->viewer();
        $addresses = [];
        foreach (self::texts($input->getOption('address')) as $url) {
            $address = $this->addresses->of($viewer, $url);
            if (null === $address) {
                $output->writeln(\sprintf('<error>%s was never captured.</error>', OutputFormatter::escape($url)));

                return Command::FAILURE;
            }
            $addresses[] = $address->code;
        }
        $roll = $input->getOption('roll');
        $folder = $input->getArgument('folder');
        if (!\is_string($folder) || (null !== $roll && (!\is_string($roll) || !ctype_digit($roll) || (int) $roll < 1))) {
            $output->writeln('<error>--roll wants a number of bytes.</error>');

            return Command::INVALID;
        }
        $wish = new ParcelOptions(
            self::texts($input->getOption('capture')),
            $addresses,
            true === $input->getOption('all'),
            true === $input->getOption('mhtml') ? ParcelOptions::MHTML : ParcelOptions::WARC,
            true === $input->getOption('scripts'),
        );
        try {
            if ($wish->everything && !$this->gate->may($viewer, Right::Guard)) {
                throw new ExportFailed('exchange.everything_is_for_custodians');
            }
            $contents = $this->builder->put($viewer, $wish, $folder, static function (): void {}, null === $roll ? null : (int) $roll);
        } catch (ExportFailed $e) {
            $output->writeln('<error>'.OutputFormatter::escape($e->trans($this->translator)).'</error>');

            return Command::FAILURE;
        }
        foreach ($contents->files as $file) {
            $output->writeln(\sprintf('%s  %s', $file['sha256'], $file['name']));
        }
        foreach ($contents->leftOut as $left) {
            $output->writeln('Left out: '.OutputFormatter::escape($left));
        }

        return [] === $contents->leftOut ? Command::SUCCESS : Command::FAILURE;
    }

    /**
     * @return list<string>
     */
    private static function texts(mixed $values): array
    {
        return array_values(array_filter(\is_array($values) ? $values : [], \is_string(...)));
    }
}
