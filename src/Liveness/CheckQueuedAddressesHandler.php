<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\LoggerInterface;
use Revolt\EventLoop;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Liveness\Event\AddressChecked;
use Ypomna\App\Liveness\Event\CheckBegins;
use Ypomna\App\Liveness\Message\CheckQueuedAddresses;
use Ypomna\App\Liveness\Value\TakenCheck;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\DataFolder;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\Assessor;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\LiveVerdict;

/**
 * Checks addresses that are waiting, many at a time, for a short while; then others have their turn. Each check is entered
 * as soon as it is judged.
 */
#[AsMessageHandler]
final class CheckQueuedAddressesHandler
{
    /** How long new addresses are taken in one turn, in seconds. */
    private const TURN = 20.0;
    private const AT_ONCE = 56;
    private const PAUSE = 0.05;
    /** For one address, redirects included. */
    private const SECONDS = 30;
    private const MOST_BYTES = 786_432;
    private const SCALE = 1_572_864;
    /** How often a server that asks for patience is asked again, and after how many seconds. */
    private const PATIENCE = [20, 60];
    private const SOON = 500;

    private int $open = 0;
    private int $idle = 0;
    private float $nothingUntil = 0.0;

    public function __construct(
        private readonly ManagerRegistry $registry,
        private readonly CheckQueue $queue,
        private readonly CheckRepository $checks,
        private readonly HeldText $held,
        private readonly Surroundings $surroundings,
        private readonly WebAccess $web,
        private readonly EventDispatcherInterface $events,
        private readonly LoggerInterface $logger,
        private readonly DataFolder $folder,
    ) {
    }

    public function __invoke(CheckQueuedAddresses $message): void
    {
        $this->queue->reclaim();
        $me = gethostname().':'.getmypid();
        if ($this->queue->isServed($me)) {
            // Those who are at it go on; this one is kept free for captures and all else.
            return;
        }
        try {
            $this->turn($me);
        } finally {
            $this->queue->release($me);
            $manager = $this->registry->getManager();
            \assert($manager instanceof EntityManagerInterface);
            $manager->clear();
        }
        $waits = $this->queue->waits();
        if (null !== $waits) {
            $this->queue->call(max(self::SOON, min(60_000, $waits)), 1);
        }
    }

    private function turn(string $me): void
    {
        $until = microtime(true) + self::TURN;
        $check = new WebCheck($this->web, self::SECONDS, new HostSlots($this->folder->hosts()), self::MOST_BYTES);
        $assessor = new Assessor($check, static fn (): string => 'y'.bin2hex(random_bytes(7)));
        $scale = new PageScale(self::SCALE);
        $main = EventLoop::getSuspension();
        $fault = null;
        $this->open = self::AT_ONCE;
        $this->idle = 0;
        $this->nothingUntil = 0.0;
        for ($n = 0; $n < self::AT_ONCE; ++$n) {
            EventLoop::queue(function () use ($me, $until, $check, $assessor, $scale, $main, &$fault): void {
                try {
                    $this->work($me, $until, $check, $assessor, $scale);
                } catch (\Throwable $e) {
                    $fault ??= $e;
                } finally {
                    if (0 === --$this->open) {
                        $main->resume();
                    }
                }
            });
        }
        $main->suspend();
        if (null !== $fault) {
            throw $fault;
        }
    }

    private function work(string $me, float $until, WebCheck $check, Assessor $assessor, PageScale $scale): void
    {
        while (microtime(true) < $until) {
            $taken = microtime(true) < $this->nothingUntil ? null : $this->queue->take($me);
            if (null !== $taken) {
                $this->one($taken, $check, $assessor, $scale);
                continue;
            }
            // While others are at work, hosts become free; one question for all is enough.
            if (microtime(true) >= $this->nothingUntil) {
                $this->nothingUntil = microtime(true) + self::PAUSE;
            }
            if (++$this->idle >= $this->open) {
                --$this->idle;

                return;
            }
            $suspension = EventLoop::getSuspension();
            EventLoop::delay(self::PAUSE, static fn () => $suspension->resume());
            $suspension->suspend();
            --$this->idle;
        }
    }

    private function one(TakenCheck $taken, WebCheck $check, Assessor $assessor, PageScale $scale): void
    {
        $capture = null;
        $begins = new CheckBegins($taken->id);
        $this->events->dispatch($begins);
        $conditions = $begins->conditions;
        $result = $check->check($taken->url, $conditions);
        if (LiveReason::NoHost === $result->failure && !$this->surroundings->believed()) {
            $result = new CheckResult(
                $result->asked,
                $result->final,
                $result->hops,
                null,
                failure: LiveReason::Dns,
                message: 'The name server says that the name does not exist, but it does not know names any more that were alive lately,'
                    .' either. So it is not believed.',
            );
        }
        if (304 === $result->status && '' !== $conditions) {
            $this->conclude(
                $taken,
                $result,
                new Assessment(LiveReason::Ok, ['The server says that the page is as it was at the check before (304).'], 0.95),
                null,
            );

            return;
        }
        try {
            [$judged, $capture] = $scale->with(\strlen($result->body), fn (): array => $this->judge($result, $assessor));
        } catch (\Throwable $e) {
            // A page that breaks something costs itself alone.
            $this->logger->error('A page broke what judges it.', ['url' => (string) $taken->url, 'exception' => $e]);
            $judged = new Assessment(LiveReason::BadResponse, ['The answer could not be read; the log says more.'], 0.3);
        }
        $patience = self::PATIENCE[$taken->tries] ?? null;
        if (LiveReason::RateLimit === $judged->reason && null !== $patience) {
            $this->queue->later($taken, $patience);

            return;
        }
        $this->conclude($taken, $result, $judged, $capture);
    }

    private function conclude(TakenCheck $taken, CheckResult $result, Assessment $judged, ?Capture $capture): void
    {
        $conclusion = $this->checks->enter($taken->id, $result, $judged, $capture);
        $isGone = LiveVerdict::Vanished === $conclusion->verdict && $conclusion->isFinal;
        $this->events->dispatch(new AddressChecked($taken->id, $result, $judged, $isGone));
    }

    /**
     * @return array{Assessment, Capture|null}
     */
    private function judge(CheckResult $result, Assessor $assessor): array
    {
        [$capture, $main] = $this->held->latest((string) $result->asked) ?? [null, null];
        $main = $result->isHtml() ? $main : null;

        return [$assessor->judge($result, $main), $capture];
    }
}
