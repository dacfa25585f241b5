<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\EngineIsAway;
use Ypomna\App\Search\IndexEntries;
use Ypomna\App\Search\Indexer;
use Ypomna\App\Search\ItemIndexer;
use Ypomna\App\Search\Message\IndexAll;
use Ypomna\App\Search\Message\IndexItems;
use Ypomna\App\Search\ReadingIndexer;
use Ypomna\App\Search\Readings;
use Ypomna\App\Search\Texts;

#[AsCommand('search:index', 'Brings the index of words up to date; workers do it unasked')]
final class SearchIndexCommand extends Command
{
    private const FAILURES = [
        'damaged' => '%d pictures, recordings or files are damaged: no words of theirs are found.',
        'too_large' => '%d pictures or files are too large to be read.',
        'too_long' => 'Of %d pictures, recordings or files the reading took too long: what was read till then is found.',
    ];

    public function __construct(
        private readonly Engine $engine,
        private readonly Indexer $indexer,
        private readonly ItemIndexer $items,
        private readonly ReadingIndexer $reading,
        private readonly Readings $readings,
        private readonly Texts $texts,
        private readonly IndexEntries $entries,
        private readonly MessageBusInterface $bus,
        private readonly LockFactory $locks,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('wait', null, InputOption::VALUE_NONE, 'Until all is in it')
            ->addOption('anew', null, InputOption::VALUE_NONE, 'Makes it again from the files and tables');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            if (true === $input->getOption('anew')) {
                $this->engine->forget();
            }
            if ($this->engine->prepare()) {
                $this->entries->all();
            }
        } catch (EngineIsAway $e) {
            $output->writeln($e->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        if (true === $input->getOption('anew')) {
            $this->texts->clear();
            $this->readings->clear();
        }
        $this->indexer->release();
        if (true !== $input->getOption('wait')) {
            $this->bus->dispatch(new IndexAll());
            $this->bus->dispatch(new IndexItems());

            return self::SUCCESS;
        }
        $isHeld = true === $input->getOption('anew') || $this->entries->isMuch();
        $lock = $this->locks->createLock(Indexer::HELD);
        if ($isHeld && $lock->acquire()) {
            $this->engine->hold();
        }
        try {
            for ($behind = 0; null !== $behind;) {
                $behind = $this->indexer->portion($behind);
            }
        } finally {
            $this->engine->release();
            $lock->release();
        }
        $this->reading->catchUp();
        $this->indexer->catchUp();
        for ($behind = 0; null !== $behind;) {
            $behind = $this->items->portion($behind, true);
        }
        foreach ($this->readings->failures() as $why => $count) {
            $output->writeln(\sprintf(self::FAILURES[$why] ?? '%d files could not be read.', $count), OutputInterface::OUTPUT_RAW);
        }

        return self::SUCCESS;
    }
}
