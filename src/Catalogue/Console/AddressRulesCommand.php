<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Address\InvalidRules;

/** Shows by which rules spellings of addresses fall together, and whether the installation's own can be read. */
#[AsCommand('address:rules', 'Shows the rules by which spellings of addresses fall together')]
final class AddressRulesCommand extends Command
{
    protected function configure(): void
    {
        $this->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        try {
            $rules = AddressKeys::rules()->rules;
        } catch (InvalidRules $e) {
            throw new UnreadableFile($e->getMessage());
        }
        foreach ($rules as $rule) {
            $out->row(
                $rule, trim($rule['kind'].' '.$rule['name']).(null === $rule['host'] ? '' : ' on '.$rule['host']).'  ('.$rule['from'].')',
            );
        }

        return Command::SUCCESS;
    }
}
