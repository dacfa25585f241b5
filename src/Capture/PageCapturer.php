<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Capture\Value\PageTask;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Network\Extent;
use Ypomna\App\Network\GatewayCertificate;
use Ypomna\App\Network\Listener;
use Ypomna\App\Network\Stream;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Gateway;

/**
 * Keeps one page, in a browser or without, through the recording gateway; what passed becomes one WARC file, and it is looked
 * whether that worked.
 */
final readonly class PageCapturer
{
    private const GRACE = 25.0;

    private CaptureWriter $writer;

    public function __construct(
        private WebAccess $web,
        private GatewayCertificate $certificate,
        private ClockInterface $clock,
        ?Originals $originals,
        private string $browser,
        string $clockSource = 'system',
        ?Store $store = null,
    ) {
        $this->writer = new CaptureWriter(new CaptureJudge($clock, $originals, $store, $browser), $originals, $clockSource);
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     *
     * @throws CaptureFailed if this machine fails: its disk, its browser
     */
    public function capture(PageTask $task, \Closure $progress): CaptureReport
    {
        $progress(CaptureStage::Opening);
        (new Filesystem())->mkdir([$task->folder.'/exchanges', $task->folder.'/browser', $task->folder.'/again'], 0o700);
        $open = $this->open($task);
        try {
            return $this->captured($open, $progress);
        } finally {
            $open->visit->window?->end();
        }
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     */
    private function captured(OpenCapture $open, \Closure $progress): CaptureReport
    {
        $task = $open->task;
        [$gateway, $visit, $robots, $options] = [$open->gateway, $open->visit, $open->robots, $task->options];
        $until = microtime(true) + $options->limits->maxSeconds;
        if (!$options->obey || $robots->allows($task->url)) {
            $this->visit($open, $until, $progress);
            if (microtime(true) < $until) {
                $robots->of($task->url);
            }
        }
        $gateway->stop(microtime(true) >= $until);
        $visit->aside += $robots->exchanges + $open->icons();
        if (null !== $gateway->fault()) {
            throw new CaptureFailed('storage', $gateway->fault()->getMessage());
        }
        $main = $visit->main ?? $open->lastAnswer();
        if (null === $main) {
            return self::nothing($open);
        }
        $progress(CaptureStage::Writing);

        return $this->writer->write($open, $main);
    }

    private function open(PageTask $task): OpenCapture
    {
        $options = $task->options;
        $connector = $this->web->connector($options->limits, $options->insecure);
        $pathfinder = $this->web->pathfinder($options->limits, $connector);
        $robots = new RobotsRules(PlainVisit::USER_AGENT);
        $gateway = new Gateway(
            $pathfinder, $task->folder.'/exchanges', $options->limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9,
            self::browserServices(), $options->obey ? $robots->allows(...) : null, $options->further($task->url), Concurrently::pair(...),
        );
        $robots->over($gateway);

        return new OpenCapture($task, $gateway, $pathfinder, $connector, $robots, $this->clock->now());
    }

    /**
     * Fetches parts that an earlier capture of the page lacks, without a browser.
     *
     * @param list<string> $wanted addresses
     * @param array<string, mixed> $completes the capture that they belong to: `capture`, `url`, `at`
     *
     * @return int how many were answered as they should be
     *
     * @throws CaptureFailed
     */
    public function parts(PageTask $task, array $wanted, array $completes): int
    {
        (new Filesystem())->mkdir($task->folder.'/exchanges', 0o700);
        $limits = $task->options->limits;
        $connector = $this->web->connector($limits, false);
        $pathfinder = $this->web->pathfinder($limits, $connector);
        $gateway = new Gateway(
            $pathfinder, $task->folder.'/exchanges', $limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9,
        );
        $open = new OpenCapture($task, $gateway, $pathfinder, $connector, new RobotsRules(PlainVisit::USER_AGENT), $this->clock->now());
        $all = [];
        foreach ($wanted as $address) {
            $url = Url::tryParse($address);
            if (null !== $url && $url->isWeb()) {
                $all[] = new RequestedPart([(string) $url->withoutFragment()], GapKind::Other, false);
            }
        }
        (new Completion($gateway, PlainVisit::USER_AGENT, (string) $task->url))->fetchAll($all, microtime(true) + $limits->maxSeconds);
        $gateway->stop(false);
        if (null !== $gateway->fault()) {
            throw new CaptureFailed('storage', $gateway->fault()->getMessage());
        }

        return $this->writer->writeParts($open, $completes);
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     */
    private function visit(OpenCapture $open, float $until, \Closure $progress): void
    {
        if (!$open->task->options->rendered) {
            $progress(CaptureStage::Loading);
            (new PlainVisit($open->gateway, $open->visit, $open->task->options))->visit($open->task->url, $until);

            return;
        }
        $window = null;
        try {
            $window = WalledBrowser::start(
                $this->browser,
                $open->task->folder.'/browser',
                static fn (Stream $client, bool $tls) => $open->gateway->serve($client, $tls),
                ['local_cert' => $this->certificate->path(), 'alpn_protocols' => 'http/1.1'],
                120.0,
            );
            // What a page does not come to by then it will not come to: reading it out goes on a little beyond its time.
            $window->chromium->until(max(0.0, $until - microtime(true)) + self::GRACE);
            (new RenderedVisit($open->gateway, $open->visit, $open->task->folder, $open->task->options))->visit(
                $window->chromium, $open->task->url, $until, $progress,
            );
            self::leave($open, $window);
        } catch (BrowserFailed $e) {
            if (null !== $open->gateway->fault()) {
                throw new CaptureFailed('storage', $open->gateway->fault()->getMessage());
            }
            if (null === $open->lastAnswer()) {
                throw new CaptureFailed('browser', 'The browser failed: '.$e->getMessage());
            }
            // What was answered is kept all the same.
            $open->visit->broken = $e->getMessage();
        } finally {
            if (null === $open->visit->window) {
                $window?->end();
            }
        }
    }

    /** Leaves the browser open for the check, where the page left it fit for that. */
    private static function leave(OpenCapture $open, WalledBrowser $window): void
    {
        if (Extent::Whole !== $open->task->options->extent || null === $open->visit->rendering->dom || $open->visit->isCutShort) {
            return;
        }
        try {
            $window->startAfresh();
            Listener::drain();
            $open->visit->window = $window;
        } catch (BrowserFailed) {
            // It is ended then, and the check has one of its own.
        }
    }

    private static function nothing(OpenCapture $open): CaptureReport
    {
        $last = $open->lastFailure() ?? ($open->task->options->obey ? $open->robots->unanswered($open->task->url) : null);
        [$reason, $message] = match (true) {
            null !== $last => [$last->failure->value ?? 'bad-response', $last->message ?? 'The page could not be loaded.'],
            $open->task->options->obey
                && !$open->robots->allows($open->task->url) => ['robots', 'The site asks programs not to fetch this page (robots.txt).'],
            default => [
                'bad-response',
                'The page could not be opened'.(null === $open->visit->error ? '.' : ' (the browser says '.$open->visit->error.').'),
            ],
        };

        return new CaptureReport(
            (string) $open->task->url, (string) $open->task->url, $open->begun, $open->task->options->rendered ? 'rendered' : 'plain', null,
            '', Verdict::Failed, $reason, $message, $open->gateway->limited() ? [Trouble::CutOff] : [], 0, [], [], false,
            $open->visit->seconds,
        );
    }

    /**
     * Hosts that Chromium asks on its own account; a page's requests to them carry Sec-Fetch fields and are kept.
     *
     * @return list<string>
     */
    private static function browserServices(): array
    {
        return [
            '*.googleapis.com', '*.gvt1.com', 'clients2.google.com', 'accounts.google.com', 'update.googleapis.com',
            'safebrowsing.google.com', 'optimizationguide-pa.googleapis.com',
        ];
    }
}
