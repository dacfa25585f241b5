<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\CaptureJudge;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Sites\Value\GroupResult;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Software;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\Judgement;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\StorageFull;

/** Keeps pages of a site without a browser. */
final readonly class PlainSite
{
    /** How long a group of pages may take, and how much it may bring. */
    private const SECONDS = 120;
    private const BYTES = 1_073_741_824;
    /** Seconds after which a page is tried again, the first time. */
    private const AGAIN = 5;

    public function __construct(private WebAccess $web, private ClockInterface $clock, private DataFolder $folder)
    {
    }

    /** @param list<TakenPage> $pages */
    public function capture(Crawl $crawl, int $slot, array $pages, Segment $segment, SiteMemory $memory): GroupResult
    {
        $files = new Filesystem();
        $folder = $this->folder->work('site-'.$slot);
        $files->remove($folder);
        $files->mkdir($folder, 0o700);
        $limits = new Limits(maxSeconds: self::SECONDS, maxBytes: self::BYTES, maxExchanges: 20_000);
        $robots = $crawl->obey ? $memory->robots : null;
        $gateway = new Gateway(
            $this->web->pathfinder($limits), $folder, $limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9, [],
            null === $robots ? null : $robots->allows(...),
        );
        $memory->robots->over($gateway);
        $told = \count($memory->robots->texts());
        $visit = new SiteVisit($gateway, $memory->parts, $memory->jar, $robots, $crawl->pause > 0 ? 2 : 4);
        try {
            foreach ($pages as $page) {
                // Asked for and kept in the file either way, once a host.
                $memory->robots->of($page->url);
            }
            $came = $visit->fetch($pages, microtime(true) + self::SECONDS);
            $gateway->stop(true);
            if (null !== $gateway->fault()) {
                throw $gateway->fault();
            }
            [$maps, $delay] = [[], 0.0];
            if (\count($memory->robots->texts()) > $told) {
                foreach ($pages as $page) {
                    $said = $memory->robots->of($page->url);
                    $delay = null === $robots ? 0.0 : max($delay, $said->delay ?? 0.0);
                    $maps = [...$maps, ...$said->maps];
                }
            }
            if ([] !== $came) {
                $came[0]->maps = [...$came[0]->maps, ...$maps];
            }
            $written = $this->write($crawl, $came, $gateway, $visit, $segment, $memory);

            return new GroupResult($came, $written[0], $written[1], $written[2], min(60.0, $delay));
        } finally {
            $files->remove($folder);
        }
    }

    /**
     * @param list<PageResult> $all
     *
     * @return array{int, int, int} parts, those that were held already, bytes
     *
     * @throws StorageFull
     */
    private function write(Crawl $crawl, array $all, Gateway $gateway, SiteVisit $visit, Segment $segment, SiteMemory $memory): array
    {
        $ofPages = [];
        $bytes = $parts = $again = 0;
        foreach ($all as $came) {
            $this->judge($crawl, $came, $memory);
            foreach ($came->exchanges as $exchange) {
                $ofPages[$exchange->number] = true;
            }
            if (null !== $came->left || null === $came->main() || (null !== $came->again && $came->page->attempts < Frontier::ATTEMPTS)) {
                continue;
            }
            $this->writePage($crawl, $came, $segment, $memory);
        }
        foreach ($gateway->exchanges() as $exchange) {
            $bytes += $exchange->responseBytes;
            if (!isset($ofPages[$exchange->number]) && $exchange->isAnswered()) {
                $again += $segment->file->add($exchange, false)[2] ? 1 : 0;
                ++$parts;
            }
        }

        return [$parts, $again, $bytes];
    }

    private function writePage(Crawl $crawl, PageResult $came, Segment $segment, SiteMemory $memory): void
    {
        $id = null;
        $isPage = 'page' === $came->page->role;
        foreach ($came->exchanges as $exchange) {
            if ($exchange->isAnswered()) {
                [$id, $came->offset] = $segment->file->add($exchange, $isPage);
            }
        }
        $main = $came->main();
        if (null === $id || null === $main || !$isPage) {
            return;
        }
        ++$segment->pages;
        [$gaps, $troubles, $judgement] = $this->verdict($came, $main, $memory);
        $came->verdict = $judgement->verdict->value;
        $report = new CaptureReport(
            (string) $came->page->url, $main->url, $main->at, 'plain', $main->status, $came->title, $judgement->verdict, $judgement->reason,
            null, $troubles, 1, $gaps, [], true,
        );
        $segment->file->about(
            $id,
            $main,
            [
                'title' => $came->title, 'requested' => (string) $came->page->url, 'site' => $crawl->code, 'depth' => $came->page->depth,
                'software' => Software::NAME, 'completeness' => $report->facts(),
            ],
        );
    }

    /** Why there is no answer, and whether it is to be asked for again. */
    private function judge(Crawl $crawl, PageResult $came, SiteMemory $memory): void
    {
        $main = $came->main();
        $later = self::AGAIN * 2 ** max(0, $came->page->attempts - 1);
        if (null === $main) {
            $silent = $crawl->obey && $memory->robots->isSilent($came->page->url);
            if (null === $came->left || $silent) {
                $came->left = null;
                $memory->robots->forget($came->page->url);
                [$came->reason, $came->message, $came->again] = [
                    $silent ? 'robots-silent' : 'limit',
                    $silent ? 'What the site asks of programs (robots.txt) could not be learned.' : 'The time for it was over.',
                    $later,
                ];
            }

            return;
        }
        $came->status = $main->status;
        if (!$main->isAnswered()) {
            [$came->reason, $came->message] = [$main->failure->value ?? 'bad-response', $main->message];
            $came->again = \in_array(
                $main->failure, [FailureReason::Guarded, FailureReason::Tls, FailureReason::NotRecordable, FailureReason::Robots], true,
            )
                ? null
                : $later;
        } elseif (\in_array($main->status, [429, 503], true)) {
            [$came->reason, $came->again] = [
                'status', CaptureJudge::retryAfter($main, $this->clock->now()) * 2 ** max(0, $came->page->attempts - 1),
            ];
        } elseif ($main->status >= 500) {
            [$came->reason, $came->again] = ['status', $later];
        }
    }

    /**
     * @return array{list<\Ypomna\Core\Completeness\Gap>, list<Trouble>, Judgement}
     */
    private function verdict(PageResult $came, Exchange $main, SiteMemory $memory): array
    {
        $gaps = $memory->parts->gaps($came->wanted);
        $troubles = match (true) {
            null !== $came->seen => Troubles::of($came->seen),
            $main->status >= 400 => [Trouble::ErrorStatus],
            default => [],
        };
        $judgement = null === $came->redirect ? Judgement::of($gaps, $troubles, null) : new Judgement(Verdict::Whole, null);
        if (Verdict::Whole === $judgement->verdict && null !== GapReason::of($main) && $main->status < 400) {
            $judgement = new Judgement(Verdict::Gaps, 'truncated');
        }

        return [$gaps, $troubles, $judgement];
    }
}
