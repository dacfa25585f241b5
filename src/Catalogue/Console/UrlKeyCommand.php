<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\InvalidRules;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

/** Says which addresses lead to the same page: those of one key. */
#[AsCommand('url:key', 'Gives the canonical form and the sort key of addresses')]
final class UrlKeyCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'url', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'Addresses',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        $status = Command::SUCCESS;
        try {
            $rules = AddressKeys::rules();
        } catch (InvalidRules $e) {
            throw new UnreadableFile($e->getMessage());
        }
        /** @var list<string> $urls */
        $urls = $input->getArgument('url');
        foreach ($urls as $given) {
            try {
                $url = Url::written($given);
                $row = ['url' => $given, 'canonical' => Key::canonical($url, $rules), 'key' => Key::of($url, $rules)];
                $out->row($row, $row['key'].'  '.$row['canonical']);
            } catch (InvalidAddress $e) {
                $out->tell($e->getMessage());
                $status = Command::FAILURE;
            }
        }

        return $status;
    }
}
