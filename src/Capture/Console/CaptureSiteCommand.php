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
use Ypomna\App\Capture\Sites\Crawls;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\InvalidRules;

/** Hands whole sites to the workers from the command line. */
#[Allow(Right::Keep)]
#[AsCommand('capture:site', 'Captures whole sites', ['site'])]
final class CaptureSiteCommand extends Command
{
    public function __construct(private readonly Crawls $crawls, private readonly CurrentPerson $person)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('url', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'Addresses of the pages to begin with')
            ->addOption('reach', null, InputOption::VALUE_REQUIRED, 'host, below (the host and what is below it) or folder', 'host')
            ->addOption('depth', null, InputOption::VALUE_REQUIRED, 'How many links from the first pages on', '')
            ->addOption(
                'include', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'A pattern of which one has to match', [],
            )
            ->addOption('exclude', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'A pattern of which none may match', [])
            ->addOption('pages', null, InputOption::VALUE_REQUIRED, 'At most so many pages', '500')
            ->addOption('megabytes', null, InputOption::VALUE_REQUIRED, 'At most so much', '1000')
            ->addOption('minutes', null, InputOption::VALUE_REQUIRED, 'At most so long', '60')
            ->addOption('pause', null, InputOption::VALUE_REQUIRED, 'Seconds between two pages of a host', '1')
            ->addOption('rendered', null, InputOption::VALUE_NONE, 'In a browser, as a reader sees the pages')
            ->addOption('without-maps', null, InputOption::VALUE_NONE, 'Sitemaps and feeds are not asked')
            ->addOption('ignore-robots', null, InputOption::VALUE_REQUIRED, 'Why robots.txt does not bind');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $actor = $this->person->actor();
        $text = static function (string $name) use ($input): string {
            $value = $input->getOption($name);

            return \is_array($value) ? implode("\n", array_filter($value, \is_string(...))) : (\is_string($value) ? $value : '');
        };
        /** @var list<string> $urls */
        $urls = $input->getArgument('url');
        try {
            $crawl = $this->crawls->begin($actor, SiteOptions::ofForm([
                'seeds' => implode("\n", $urls), 'reach' => $text('reach'), 'depth' => $text('depth'), 'includes' => $text('include'),
                'excludes' => $text('exclude'), 'pages' => $text('pages'), 'megabytes' => $text('megabytes'), 'minutes' => $text('minutes'),
                'pause' => $text('pause'),
                'how' => true === $input->getOption('rendered') ? 'rendered' : 'plain',
                'maps' => true === $input->getOption('without-maps') ? '0' : '1', 'overrule' => '' === $text('ignore-robots') ? '' : '1',
                'reason' => $text('ignore-robots'),
            ]));
        } catch (InvalidAddress|InvalidRules $e) {
            $output->writeln('<error>'.OutputFormatter::escape($e->getMessage()).'</error>');

            return Command::FAILURE;
        }
        $output->writeln(\sprintf('%s is waiting to be captured (%s)', OutputFormatter::escape($crawl->name), $crawl->code));

        return Command::SUCCESS;
    }
}
