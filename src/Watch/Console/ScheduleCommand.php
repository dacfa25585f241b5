<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Console;

use Doctrine\ORM\EntityManagerInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Liveness\DueChecks;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Watch\Digest;
use Ypomna\App\Watch\DueWatches;

/** Sees again and again what is due, and hands it to the workers. Several of them do no harm: what is wanted is wanted once. */
#[AsCommand('schedule:run', 'Hands what is due to the workers, again and again')]
final class ScheduleCommand extends Command
{
    private const PAUSE = 3_000_000;

    private bool $ends = false;

    public function __construct(
        private readonly DueChecks $checks,
        private readonly DueWatches $round,
        private readonly Digest $digest,
        private readonly Arrivals $arrivals,
        private readonly EventDispatcherInterface $events,
        private readonly EntityManagerInterface $entities,
        private readonly LoggerInterface $logger,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('once', null, InputOption::VALUE_NONE, 'Looks once and ends')
            ->addOption('time-limit', null, InputOption::VALUE_REQUIRED, 'Ends after so many seconds', '3600');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        pcntl_async_signals(true);
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            pcntl_signal($signal, function (): void { $this->ends = true; });
        }
        $limit = $input->getOption('time-limit');
        $until = microtime(true) + (is_numeric($limit) ? (float) $limit : 3_600.0);
        do {
            try {
                $wanted = $this->checks->want() + $this->round->queueDue();
                $this->digest->send();
                $this->arrivals->expire();
                $this->events->dispatch(new RoundMade());
                if ($output->isVerbose()) {
                    $output->writeln(\sprintf('Due checks: %d.', $wanted));
                }
            } catch (\Doctrine\DBAL\Exception $e) {
                // The database may be away for a while.
                $this->logger->error('What is due could not be seen.', ['exception' => $e]);
                $this->entities->getConnection()->close();
            }
            $this->entities->clear();
            for ($slept = 0; $slept < self::PAUSE && !$this->hasToEnd($until) && true !== $input->getOption('once'); $slept += 100_000) {
                usleep(100_000);
            }
        } while (!$this->hasToEnd($until) && true !== $input->getOption('once'));

        return Command::SUCCESS;
    }

    private function hasToEnd(float $until): bool
    {
        return $this->ends || microtime(true) >= $until;
    }
}
