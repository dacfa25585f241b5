<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Mhtml\Entity;
use Ypomna\Core\Mhtml\MhtmlFinding;
use Ypomna\Core\Mhtml\MhtmlReader;

/** Lists the parts of an MHTML file or a mail message. */
#[AsCommand('mhtml:list', 'Lists the parts of an MHTML file, page by page')]
final class MhtmlListCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'file', InputArgument::REQUIRED, 'An MHTML file or mail message; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('file');
        $file = new GivenFile(\is_string($name) ? $name : '');
        $out = new Output($output, true === $input->getOption('json'));
        $archive = MhtmlReader::read($file->path);
        $problems = [];
        foreach ($archive->findings as $finding) {
            if (null === $finding->part) {
                $out->tell($file->name.': '.$finding->code->value.': '.$finding->message);
            } else {
                $problems[$finding->part][] = $finding->message;
            }
        }
        foreach ($archive->parts as $part) {
            $row = self::row($part, $problems[$part->index] ?? []);
            $out->row($row, \sprintf(
                '%3d %4d %s %-28s %10d  %s',
                $row['page'],
                $row['index'],
                $row['root'] ? '*' : ' ',
                $row['mime'],
                $row['bytes'],
                $row['location'] ?? (null === $row['contentId'] ? '' : 'cid:'.$row['contentId']),
            )
                .(null === $row['problem'] ? '' : '  ! '.$row['problem']));
        }

        return [] === array_filter($archive->findings, static fn (MhtmlFinding $finding): bool => !$finding->code->isWarning())
            ? Command::SUCCESS
            : Command::FAILURE;
    }

    /**
     * @param list<string> $problems
     *
     * @return array{
     *     page: int, index: int, root: bool, location: string|null, contentId: string|null, mime: string, charset: string|null,
     *     encoding: string, bytes: int, sha256: string, problem: string|null,
     * }
     */
    private static function row(Entity $part, array $problems): array
    {
        return [
            'page' => $part->page, 'index' => $part->index, 'root' => $part->root, 'location' => $part->location(),
            'contentId' => $part->headers->contentId(), 'mime' => $part->headers->mime,
            'charset' => $part->headers->charset(), 'encoding' => $part->headers->encoding, 'bytes' => $part->bytes,
            'sha256' => $part->sha256, 'problem' => [] === $problems ? null : implode(' ', $problems),
        ];
    }
}
