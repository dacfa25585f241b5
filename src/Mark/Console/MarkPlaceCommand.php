<?php

declare(strict_types=1);

namespace Ypomna\App\Mark\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Replay\PageFile;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Annotation\Mark;
use Ypomna\Core\Annotation\MarkFile;
use Ypomna\Core\Annotation\Place;
use Ypomna\Core\Annotation\Placement;
use Ypomna\Core\Annotation\Placing;
use Ypomna\Core\Annotation\UnreadableMarks;

/** Says where marks that were made on one capture stand on another. */
#[AsCommand('mark:place', 'Says where marks that were made on one capture stand on another')]
final class MarkPlaceCommand extends Command
{
    protected function configure(): void
    {
        $page = 'An HTML or MHTML file, or a WARC file with the address behind # and the moment behind a last @; - is standard input';
        $this->addArgument(
            'marks', InputArgument::REQUIRED, 'A JSON file: a W3C annotation, a list of them, or an AnnotationPage; - is standard input',
        )
            ->addArgument('page', InputArgument::REQUIRED, $page)
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'The page that the marks were made on')
            ->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$marks, $page, $from] = [$input->getArgument('marks'), $input->getArgument('page'), $input->getOption('from')];
        $marks = self::marks(\is_string($marks) ? $marks : '');
        $new = PageFile::read(\is_string($page) ? $page : '')->document;
        $old = \is_string($from) ? PageFile::read($from)->document : null;
        $out = new Output($output, true === $input->getOption('json'));
        $isAllSame = true;
        foreach (Placing::all($marks, $new, $old) as $n => $placed) {
            $isAllSame = $isAllSame && Place::Same === $placed->place;
            $out->row($placed->data(), self::line($placed, $n + 1));
        }

        return $isAllSame ? Command::SUCCESS : Command::FAILURE;
    }

    /** @return list<Mark> */
    private static function marks(string $name): array
    {
        $file = new GivenFile($name);
        try {
            return MarkFile::read((string) file_get_contents($file->path, false, null, 0, MarkFile::MOST_BYTES + 1));
        } catch (UnreadableMarks $e) {
            throw new UnreadableFile($file->name.': '.$e->getMessage());
        }
    }

    private static function line(Placement $placed, int $number): string
    {
        $where = null === $placed->start ? '' : \sprintf(' %d–%d', $placed->start, $placed->end ?? 0);

        return \sprintf('%s  %s%s%s', $placed->id ?? '#'.$number, $placed->place->value ?? 'no place', $where, match (true) {
            null !== $placed->problem => ': '.$placed->problem,
            null !== $placed->text => ($placed->moved ?? false ? ', moved' : '').': '.strtr($placed->text, "\n", ' '),
            null !== $placed->passage => ', taken out of: '.$placed->passage,
            default => '',
        });
    }
}
