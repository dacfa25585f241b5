<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Console;

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
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\NoiseRules;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\Weighing;

/** Compares two versions of a page as a reader sees them. */
#[AsCommand('compare', 'Compares two versions of a page: text, links, pictures, title')]
final class CompareCommand extends Command
{
    private const MOST_RULES_BYTES = 1_048_576;

    protected function configure(): void
    {
        $this->addArgument(
            'old',
            InputArgument::REQUIRED,
            'An HTML or MHTML file, or a WARC file with the address behind # and the moment behind a last @; - is standard input',
        )
            ->addArgument('new', InputArgument::REQUIRED, 'The same')
            ->addOption('rules', null, InputOption::VALUE_REQUIRED, 'A file with rules about what is passed over')
            ->addOption('json', null, InputOption::VALUE_NONE, 'One JSON document');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$first, $second, $file] = [$input->getArgument('old'), $input->getArgument('new'), $input->getOption('rules')];
        $rules = \is_string($file) ? self::rules($file) : null;
        $old = PageFile::read(\is_string($first) ? $first : '');
        $new = PageFile::read(\is_string($second) ? $second : '');
        $both = array_intersect(array_column($old->document->pictures, 'src'), array_column($new->document->pictures, 'src'));
        $shared = static fn (PageFile $page): array => $page->digests(array_values(array_filter(
            $page->document->pictures,
            static fn ($picture): bool => \in_array($picture->src, $both, true) || str_starts_with($picture->src, 'cid:'),
        )));
        $comparison = PageComparison::of($old->document, $new->document, $shared($old), $shared($new));
        $report = new ComparisonReport(
            $comparison, $old->document, $new->document, new Weighing($rules ?? new NoiseRules()), null !== $rules,
        );
        $out = new Output($output, true === $input->getOption('json'));
        $out->row($report->data(), $report->text());

        return $report->isIdentical() ? Command::SUCCESS : Command::FAILURE;
    }

    private static function rules(string $name): NoiseRules
    {
        $file = new GivenFile($name);
        try {
            return NoiseRules::fromJson((string) file_get_contents($file->path, false, null, 0, self::MOST_RULES_BYTES));
        } catch (InvalidRule $e) {
            throw new UnreadableFile($file->name.': '.$e->getMessage());
        }
    }
}
