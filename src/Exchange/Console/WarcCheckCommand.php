<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Exchange\CheckOnTwoCores;
use Ypomna\App\Shared\CommandLine\FilesInTurn;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Warc\WarcReport;

/** Checks WARC files: their form, and every digest that they declare. */
#[AsCommand('warc:check', 'Checks WARC files: their form, and every digest that they declare')]
final class WarcCheckCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'WARC files, plain or gzip; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line, one a file');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        /** @var list<string> $names */
        $names = $input->getArgument('file');

        return FilesInTurn::check($names, $out, static function (GivenFile $file) use ($out): bool {
            $report = CheckOnTwoCores::run($file->path);
            $out->row(['file' => $file->name] + $report->toArray(), $file->name.': '.self::words($report));

            return $report->valid;
        });
    }

    private static function words(WarcReport $report): string
    {
        $words = \sprintf(
            '%s, %d records (digests: %d ok, %d mismatch, %d absent, %d unsupported)',
            $report->valid ? 'valid' : 'NOT VALID',
            $report->records,
            $report->ok,
            $report->mismatch,
            $report->absent,
            $report->unsupported,
        );
        foreach ($report->findings as $finding) {
            $words .= \sprintf("\n  %s%s: %s", $finding->code->value, $finding->code->isWarning() ? ' (warning)' : '', $finding->message);
        }

        return $words;
    }
}
