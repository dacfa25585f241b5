<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\CommandLine\FilesInTurn;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Mhtml\MhtmlCheck;
use Ypomna\Core\Mhtml\MhtmlFinding;
use Ypomna\Core\Mhtml\MhtmlReader;

/** Checks MHTML files: their form, and whether each page holds what its document asks for. */
#[AsCommand('mhtml:check', 'Checks MHTML files: their form, and whether each page is complete')]
final class MhtmlCheckCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'MHTML files; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line, one a file');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        /** @var list<string> $names */
        $names = $input->getArgument('file');

        return FilesInTurn::check($names, $out, static function (GivenFile $file) use ($out): bool {
            $archive = MhtmlReader::read($file->path);
            $findings = MhtmlCheck::run($archive);
            $valid = [] === array_filter($findings, static fn (MhtmlFinding $finding): bool => !$finding->code->isWarning());
            $problems = array_map(
                static fn (MhtmlFinding $f): array => [
                    'part' => $f->part, 'code' => $f->code->value, 'message' => $f->message,
                ] + ($f->code->isWarning() ? ['warning' => true] : []),
                $findings,
            );
            $words = \sprintf(
                '%s: %s, %d pages, %d parts', $file->name, $valid ? 'valid' : 'NOT VALID', $archive->pages, \count($archive->parts),
            );
            foreach ($findings as $finding) {
                $words .= \sprintf(
                    "\n  %s%s: %s", $finding->code->value, null === $finding->part ? '' : ' (part '.$finding->part.')', $finding->message,
                );
            }
            $out->row(
                [
                    'file' => $file->name, 'pages' => $archive->pages, 'parts' => \count($archive->parts), 'problems' => $problems,
                    'valid' => $valid,
                ],
                $words,
            );

            return $valid;
        });
    }
}
