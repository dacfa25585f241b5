<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Capture\Value\PageTask;
use Ypomna\App\Network\Extent;
use Ypomna\App\Network\StreamConnector;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Pathfinder;

/** A capture under way: what is to be done, through what it goes, and what came of it so far. */
final readonly class OpenCapture
{
    public function __construct(
        public PageTask $task,
        public Gateway $gateway,
        public Pathfinder $pathfinder,
        public StreamConnector $connector,
        public RobotsRules $robots,
        public \DateTimeImmutable $begun,
        public Visit $visit = new Visit(),
    ) {
    }

    /**
     * The exchanges that are kept: all, or those on the way to the page itself.
     *
     * @return array<int, Exchange>
     */
    public function kept(Exchange $main): array
    {
        return Extent::Whole === $this->task->options->extent
            ? $this->gateway->exchanges()
            : array_filter(
                $this->gateway->exchanges(),
                fn (Exchange $exchange): bool => $exchange === $main
                    || ($exchange->number < $main->number && $exchange->status >= 300 && $exchange->status < 400
                        && (!$this->task->options->rendered || 'document' === $exchange->destination))
                    || str_ends_with($exchange->url, '/robots.txt'),
            );
    }

    public function lastFailure(): ?Exchange
    {
        foreach (array_reverse($this->gateway->exchanges()) as $exchange) {
            if (null !== $exchange->failure && FailureReason::Robots !== $exchange->failure
                && !isset($this->visit->aside[$exchange->number])) {
                return $exchange;
            }
        }

        return null;
    }

    public function lastAnswer(): ?Exchange
    {
        foreach (array_reverse($this->gateway->exchanges()) as $exchange) {
            if ($exchange->isAnswered() && !isset($this->visit->aside[$exchange->number])) {
                return $exchange;
            }
        }

        return null;
    }

    /**
     * Little pictures that a browser asks for on its own account.
     *
     * @return array<int, true>
     */
    public function icons(): array
    {
        $icons = [];
        foreach ($this->gateway->exchanges() as $exchange) {
            if ((null !== $this->visit->asked && !isset($this->visit->asked[$exchange->url]) && 'image' === $exchange->destination)
                || 1 === preg_match('#^https?://[^/]+/favicon\.ico$#', $exchange->url)) {
                $icons[$exchange->number] = true;
            }
        }

        return $icons;
    }
}
