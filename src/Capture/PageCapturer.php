<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Psr\Clock\ClockInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Uid\Uuid;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\Chromium;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Network\Extent;
use Ypomna\App\Network\GatewayCertificate;
use Ypomna\App\Network\Listener;
use Ypomna\App\Network\Stream;
use Ypomna\App\Network\StreamConnector;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\MachineClock;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\Gaps;
use Ypomna\Core\Completeness\Judgement;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\CaptureFacts;
use Ypomna\Core\Fetch\CaptureFile;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Overwritten;
use Ypomna\Core\Fetch\Pathfinder;
use Ypomna\Core\Fetch\Rendering;
use Ypomna\Core\Fetch\Secrets;
use Ypomna\Core\Fetch\SocketLog;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordHeader;
use Ypomna\Core\Warc\WarcError;

/**
 * Keeps one page, in a browser or without, through the recording gateway; what passed becomes one WARC file, and it is looked
 * whether that worked.
 */
final readonly class PageCapturer
{
    public const SOFTWARE = 'Ypomna 0.1';
    private const GRACE = 25.0;

    public function __construct(
        private WebAccess $web,
        private GatewayCertificate $certificate,
        private ClockInterface $clock,
        private Limits $limits,
        private ?Originals $originals,
        private string $browser,
        private string $clockSource = 'system',
        private ?Store $store = null,
    ) {
    }

    /**
     * @param string                       $folder   an empty folder of this capture's own; the caller removes it
     * @param string                       $target   path of the WARC file; it is made, synced, and complete on return, if anything was answered
     * @param \Closure(CaptureStage): void $progress
     *
     * @throws CaptureFailed if this machine fails: its disk, its browser
     */
    public function keep(Actor $operator, Url $url, string $folder, string $target, string $fileName, \Closure $progress, ?CaptureOptions $options = null): CaptureReport
    {
        $options ??= new CaptureOptions(limits: $this->limits);
        $progress(CaptureStage::Opening);
        (new Filesystem())->mkdir([$folder.'/exchanges', $folder.'/browser', $folder.'/again'], 0o700);
        $connector = $this->web->connector($options->limits, $options->insecure);
        $pathfinder = $this->web->pathfinder($options->limits, $connector);
        $robots = new RobotsRules(PlainVisit::USER_AGENT);
        $gateway = new Gateway(
            $pathfinder, $folder.'/exchanges', $options->limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9,
            self::browserServices(), $options->obey ? $robots->allows(...) : null, $options->further($url), Concurrently::pair(...),
        );
        $robots->over($gateway);
        $visit = new Visit();
        $until = microtime(true) + $options->limits->maxSeconds;
        $begun = $this->clock->now();
        if (!$options->obey || $robots->allows($url)) {
            $this->visit($url, $folder, $gateway, $visit, $options, $until, $progress);
            if (microtime(true) < $until) {
                $robots->of($url);
            }
        }
        $gateway->stop(microtime(true) >= $until);
        $visit->aside += $robots->exchanges + self::icons($gateway, $visit);
        if (null !== $gateway->fault()) {
            throw new CaptureFailed('storage', $gateway->fault()->getMessage());
        }
        $main = $visit->main ?? $this->lastAnswer($gateway, $visit);
        if (null === $main) {
            return $this->nothing($url, $begun, $gateway, $visit, $options, $robots);
        }
        $progress(CaptureStage::Writing);

        return $this->write($operator, $url, $main, $folder, $target, $fileName, $gateway, $visit, $options, $pathfinder, $connector, $robots);
    }

    /**
     * Fetches parts that an earlier capture lacks, without a browser.
     *
     * @param list<string>         $wanted    addresses
     * @param array<string, mixed> $completes the capture that they belong to: `capture`, `url`, `at`
     *
     * @return int how many were answered as they should be
     *
     * @throws CaptureFailed
     */
    public function parts(Actor $operator, array $wanted, array $completes, Url $page, string $folder, string $target, string $fileName): int
    {
        (new Filesystem())->mkdir($folder.'/exchanges', 0o700);
        $pathfinder = $this->web->pathfinder($this->limits);
        $gateway = new Gateway($pathfinder, $folder.'/exchanges', $this->limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9);
        $completion = new Completion($gateway, PlainVisit::USER_AGENT, (string) $page);
        $all = [];
        foreach ($wanted as $address) {
            $url = Url::tryParse($address);
            if (null !== $url && $url->isWeb()) {
                $all[] = new RequestedPart([(string) $url->withoutFragment()], GapKind::Other, false);
            }
        }
        $begun = $this->clock->now();
        $completion->go($all, microtime(true) + $this->limits->maxSeconds);
        $gateway->stop(false);
        if (null !== $gateway->fault()) {
            throw new CaptureFailed('storage', $gateway->fault()->getMessage());
        }
        $good = \count(array_filter($gateway->exchanges(), static fn (Exchange $exchange): bool => null === GapReason::of($exchange) && $exchange->status < 300));
        $out = 0 === $good ? null : @fopen($target, 'w');
        if (false === $out) {
            throw new CaptureFailed('storage', 'The store cannot be written to.');
        }
        if (null === $out) {
            return 0;
        }
        $facts = new CaptureFacts((string) $page, (string) $page, '', 'plain', $operator->name, self::SOFTWARE, PlainVisit::USER_AGENT, $pathfinder->answers(), $gateway->certificates(), 'system' === $this->clockSource ? MachineClock::state() : ['source' => $this->clockSource]);
        try {
            $this->file(true)->writeParts($out, $fileName, $gateway->exchanges(), $completes, $facts, $begun);
            if (!fflush($out) || !fsync($out)) {
                throw new CaptureFailed('storage', 'The file could not be written to the disk for good.');
            }
        } catch (\RuntimeException $e) {
            throw $e instanceof CaptureFailed ? $e : new CaptureFailed('storage', 'The parts could not be written: '.$e->getMessage());
        } finally {
            fclose($out);
        }

        return $good;
    }

    private function file(bool $packed): CaptureFile
    {
        return new CaptureFile(static fn (): string => 'urn:uuid:'.Uuid::v4()->toRfc4122(), null === $this->originals ? null : $this->originals->known(...), $packed);
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     */
    private function visit(Url $url, string $folder, Gateway $gateway, Visit $visit, CaptureOptions $options, float $until, \Closure $progress): void
    {
        if (!$options->rendered) {
            $progress(CaptureStage::Loading);
            (new PlainVisit($gateway, $visit, $options))->go($url, $until);

            return;
        }
        $listener = $browser = null;
        try {
            $browser = Chromium::walled($this->browser, $folder.'/browser', function ($socket) use (&$listener, $gateway): void {
                $listener = Listener::on($socket, static fn (Stream $client, bool $tls) => $gateway->serve($client, $tls), ['local_cert' => $this->certificate->path(), 'alpn_protocols' => 'http/1.1'], 120.0);
            });
            // What a page does not come to by then it will not come to: reading it out goes on a little beyond its time.
            $browser->until(max(0.0, $until - microtime(true)) + self::GRACE);
            (new RenderedVisit($gateway, $visit, $folder, $options))->go($browser, $url, $until, $progress);
        } catch (BrowserFailed $e) {
            if (null !== $gateway->fault()) {
                throw new CaptureFailed('storage', $gateway->fault()->getMessage());
            }
            if (null === $this->lastAnswer($gateway, $visit)) {
                throw new CaptureFailed('browser', 'The browser failed: '.$e->getMessage());
            }
            // What was answered is kept all the same.
            $visit->broken = $e->getMessage();
        } finally {
            $browser?->end();
            $listener?->close();
            Listener::drain();
        }
    }

    private function write(Actor $operator, Url $url, Exchange $main, string $folder, string $target, string $fileName, Gateway $gateway, Visit $visit, CaptureOptions $options, Pathfinder $pathfinder, StreamConnector $connector, RobotsRules $robots): CaptureReport
    {
        $how = $options->rendered ? 'rendered' : 'plain';
        if (Extent::Text === $options->extent && !$options->rendered && '' !== $visit->written) {
            file_put_contents($folder.'/text.txt', $visit->written);
            $visit->rendering = new Rendering(null, $folder.'/text.txt');
        }
        $overwritten = self::hidden($options->secrets(), $main, $gateway, $visit);
        $facts = new CaptureFacts(
            (string) $url, $main->url, $visit->title, $how, $operator->name, self::SOFTWARE, $visit->browser, $pathfinder->answers(), $gateway->certificates(),
            'system' === $this->clockSource ? MachineClock::state() : ['source' => $this->clockSource],
            ['obeyed' => $options->obey, 'allowed' => $robots->of($url)->allows($url), 'said' => $robots->texts()], $connector->distrusted, $overwritten,
        );
        $out = @fopen($target, 'w');
        if (false === $out) {
            throw new CaptureFailed('storage', 'The store cannot be written to.');
        }
        try {
            $file = $this->file($options->packed);
            // What was asked for on our own account comes last: a file begins with the way to its page.
            $ours = array_filter($gateway->exchanges(), static fn (Exchange $exchange): bool => isset($robots->exchanges[$exchange->number]));
            $page = $file->write($out, $fileName, [...array_values(array_diff_key(self::within($gateway->exchanges(), $main, $options), $ours)), ...array_values($ours)], $main, $visit->rendering, $facts);
            fflush($out);
            [$report, $replay] = $this->judge($url, $main, $folder, $target, $gateway, $visit, $options);
            $file->judged($page, $main, $report->facts() + ['replay' => $replay, 'seconds' => $report->seconds, 'places' => self::places($report, $visit)] + (Extent::Whole === $options->extent ? [] : ['extent' => $options->extent->value, 'part' => $options->part, 'says' => $visit->says]));
            if (!fflush($out) || !fsync($out)) {
                throw new CaptureFailed('storage', 'The file could not be written to the disk for good.');
            }

            return $report;
        } catch (\RuntimeException $e) {
            throw $e instanceof CaptureFailed ? $e : new CaptureFailed('storage', 'The capture could not be written: '.$e->getMessage());
        } finally {
            fclose($out);
        }
    }

    /**
     * What signs a person in goes out of everything that is kept, and out of what is held against it.
     *
     * @return list<Overwritten>
     */
    private static function hidden(?Secrets $secrets, Exchange $main, Gateway $gateway, Visit $visit): array
    {
        if (null === $secrets) {
            return [];
        }
        $done = $secrets->overwrite($gateway->exchanges());
        $made = [['rendered', $main->url, $visit->rendering->dom], ['text', $main->url, $visit->rendering->text]];
        foreach ($visit->rendering->frames as $frame) {
            $made[] = ['frame', $frame['url'], $frame['dom']];
        }
        foreach ($made as [$part, $url, $path]) {
            $done[] = null === $path ? null : $secrets->inFile($part, $main->number, $url, $path);
        }
        $visit->clean($secrets->clean(...));

        return array_values(array_filter($done, static fn (?Overwritten $one): bool => null !== $one));
    }

    /**
     * @return array{CaptureReport, array<string, mixed>|null} and what the replay showed
     */
    private function judge(Url $url, Exchange $main, string $folder, string $target, Gateway $gateway, Visit $visit, CaptureOptions $options): array
    {
        $kept = self::within($gateway->exchanges(), $main, $options);
        $gaps = [...Gaps::of(array_values($kept), $main, $visit->wanted, $visit->aside), ...array_map(static fn (string $url): Gap => new Gap($url, GapKind::Media, GapReason::NotRecordable), Extent::Whole === $options->extent ? $visit->streams : [])];
        $troubles = null === $visit->seen ? self::ofNoPage($main) : Troubles::of($visit->seen);
        if (null !== $visit->error && str_contains($visit->error, 'TOO_MANY_REDIRECTS')) {
            $troubles = [Trouble::RedirectLoop];
        }
        if ($gateway->limited() || $visit->isCutShort) {
            $troubles[] = Trouble::CutOff;
        }
        $replay = null;
        $seconds = $visit->seconds;
        if (Extent::Whole === $options->extent && null !== $visit->rendering->dom && Verdict::Failed !== Judgement::of([], $troubles, null)->verdict) {
            $begun = microtime(true);
            try {
                $replay = (new ReplayCheck($this->browser, $this->heldBefore(...)))->check(
                    $target, Url::parse($main->url), $folder.'/again', $visit->text ?? '', $visit->rendering->pictures,
                    $options, $visit->moving, self::sockets($kept),
                );
            } catch (BrowserFailed $e) {
                $replay = ['equal' => false, 'error' => $e->getMessage()];
            }
            $seconds['check'] = round(microtime(true) - $begun, 3);
            if (false === ($replay['sockets'] ?? null)) {
                // What was said on them is kept, and does not do: the page asked what it will not ask again.
                array_push($gaps, ...self::unlikeSockets($kept, $gaps));
            }
        }
        $failure = $this->failure($main, $gateway, $visit) ?? ($visit->hasPart ? null : ['no-such-part', 'The part that was asked for is not on the page.']);
        $judgement = null === $failure ? Judgement::of($gaps, $troubles, null === $replay ? null : $replay['equal'], $visit->nothingElse) : new Judgement(Verdict::Failed, $failure[0]);
        if (null !== $visit->broken && null === $visit->rendering->dom && null === $failure) {
            $judgement = new Judgement(Verdict::Failed, 'browser');
        } elseif (null !== $visit->broken && Verdict::Whole === $judgement->verdict) {
            $judgement = new Judgement(Verdict::Gaps, 'browser');
        }
        if (null !== $main->truncated && Verdict::Whole === $judgement->verdict) {
            $judgement = new Judgement(Verdict::Gaps, 'truncated');
        }
        $stray = [];
        $parts = 0;
        foreach ($kept as $exchange) {
            $parts += $exchange->isAnswered() ? 1 : 0;
            if (null !== $visit->asked && $exchange->isAnswered() && !isset($visit->aside[$exchange->number]) && !isset($visit->asked[$exchange->url])) {
                $stray[] = $exchange->url;
            }
        }

        return [new CaptureReport(
            (string) $url, $main->url, $main->at, $options->rendered ? 'rendered' : 'plain', $main->status, $visit->title, $judgement->verdict, $judgement->reason,
            $failure[1] ?? null, $troubles, $parts, $gaps, array_values(array_unique($stray)), true, $seconds, \in_array($main->status, [429, 503], true) ? self::retryAfter($main, $this->clock->now()) : null,
        ), $replay];
    }

    /**
     * For how long the sockets of a page spoke to it.
     *
     * @param array<int, Exchange> $exchanges
     *
     * @return float|null seconds; null if there was none, or none that spoke
     */
    private static function sockets(array $exchanges): ?float
    {
        $seconds = null;
        foreach ($exchanges as $exchange) {
            if (null !== $exchange->messagesPath) {
                $last = SocketLog::lastSaid($exchange->messagesPath);
                $seconds = null === $last ? $seconds : max($seconds ?? 0.0, $last);
            }
        }

        return $seconds;
    }

    /**
     * @param array<int, Exchange> $exchanges
     * @param list<Gap>            $gaps      that are known already
     *
     * @return list<Gap>
     */
    private static function unlikeSockets(array $exchanges, array $gaps): array
    {
        $known = array_map(static fn (Gap $gap): string => $gap->url, $gaps);
        $found = [];
        foreach ($exchanges as $exchange) {
            if (null !== $exchange->messagesPath && !\in_array($exchange->url, $known, true)) {
                $found[$exchange->url] = new Gap($exchange->url, GapKind::Data, GapReason::NotRecordable);
            }
        }

        return array_values($found);
    }

    /**
     * Where on the page lie the gaps.
     *
     * @return array{page: array{int, int}, gaps: list<array{url: string, box: array{int, int, int, int}}>}|null null if that is not known
     */
    private static function places(CaptureReport $report, Visit $visit): ?array
    {
        $gaps = [];
        foreach ($report->gaps as $gap) {
            if (isset($visit->places['parts'][$gap->url])) {
                $gaps[] = ['url' => $gap->url, 'box' => $visit->places['parts'][$gap->url]];
            }
        }

        return [] === $gaps ? null : ['page' => $visit->places['page'], 'gaps' => $gaps];
    }

    /**
     * The exchanges that are kept: all, or those on the way to the page itself.
     *
     * @param list<Exchange> $exchanges
     *
     * @return array<int, Exchange>
     */
    private static function within(array $exchanges, Exchange $main, CaptureOptions $options): array
    {
        return Extent::Whole === $options->extent ? $exchanges : array_filter($exchanges, static fn (Exchange $exchange): bool => $exchange === $main || ($exchange->number < $main->number && $exchange->status >= 300 && $exchange->status < 400 && (!$options->rendered || 'document' === $exchange->destination)) || str_ends_with($exchange->url, '/robots.txt'));
    }

    /** For how many seconds the server wants to be left alone (RFC 9110, section 10.2.3). */
    public static function retryAfter(Exchange $main, \DateTimeImmutable $now): int
    {
        try {
            $said = trim((new Answer(Url::parse($main->url), $main))->head->fields->get('Retry-After') ?? '');
        } catch (FetchFailed) {
            $said = '';
        }
        $at = HttpDate::parse($said);

        return max(1, min(86_400, 1 === preg_match('/^\d{1,6}$/D', $said) ? (int) $said : (null === $at ? 60 : $at->getTimestamp() - $now->getTimestamp())));
    }

    /** What a record of this capture refers to and an earlier one holds. */
    private function heldBefore(RecordHeader $revisit): ?Record
    {
        $place = $this->originals?->of($revisit);
        try {
            return null === $place || null === $this->store ? null : $this->store->record($place->path, $place->offset);
        } catch (WarcError) {
            return null;
        }
    }

    /**
     * @return list<Trouble> of what is no page with text
     */
    private static function ofNoPage(Exchange $main): array
    {
        return match (true) {
            204 === $main->status, 205 === $main->status => [Trouble::EmptyShell],
            401 === $main->status => [Trouble::Login],
            $main->status >= 400 => [Trouble::ErrorStatus],
            default => [],
        };
    }

    /**
     * Why the page itself was not had, though something was answered on the way.
     *
     * @return array{string, string}|null a word, and a sentence
     */
    private function failure(Exchange $main, Gateway $gateway, Visit $visit): ?array
    {
        if (null !== $visit->error && str_contains($visit->error, 'TOO_MANY_REDIRECTS')) {
            return ['redirect-loop', 'The page leads from one address to the next without end.'];
        }
        if ($main->status >= 300 && $main->status < 400) {
            $last = $this->lastFailure($gateway, $visit);

            return null === $last ? ['bad-response', 'The page sends on to what could not be opened.'] : [$last->failure->value ?? 'bad-response', $last->message ?? 'The page could not be had.'];
        }

        return null;
    }

    private function nothing(Url $url, \DateTimeImmutable $begun, Gateway $gateway, Visit $visit, CaptureOptions $options, RobotsRules $robots): CaptureReport
    {
        $last = $this->lastFailure($gateway, $visit) ?? ($options->obey ? $robots->unanswered($url) : null);
        [$reason, $message] = match (true) {
            null !== $last => [$last->failure->value ?? 'bad-response', $last->message ?? 'The page could not be had.'],
            $options->obey && !$robots->allows($url) => ['robots', 'The site asks programs not to fetch this page (robots.txt).'],
            default => ['bad-response', 'The page could not be opened'.(null === $visit->error ? '.' : ' (the browser says '.$visit->error.').')],
        };

        return new CaptureReport((string) $url, (string) $url, $begun, $options->rendered ? 'rendered' : 'plain', null, '', Verdict::Failed, $reason, $message, $gateway->limited() ? [Trouble::CutOff] : [], 0, [], [], false, $visit->seconds);
    }

    private function lastFailure(Gateway $gateway, Visit $visit): ?Exchange
    {
        foreach (array_reverse($gateway->exchanges()) as $exchange) {
            if (null !== $exchange->failure && FailureReason::Robots !== $exchange->failure && !isset($visit->aside[$exchange->number])) {
                return $exchange;
            }
        }

        return null;
    }

    private function lastAnswer(Gateway $gateway, Visit $visit): ?Exchange
    {
        foreach (array_reverse($gateway->exchanges()) as $exchange) {
            if ($exchange->isAnswered() && !isset($visit->aside[$exchange->number])) {
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
    private static function icons(Gateway $gateway, Visit $visit): array
    {
        $icons = [];
        foreach ($gateway->exchanges() as $exchange) {
            if ((null !== $visit->asked && !isset($visit->asked[$exchange->url]) && 'image' === $exchange->destination) || 1 === preg_match('#^https?://[^/]+/favicon\.ico$#', $exchange->url)) {
                $icons[$exchange->number] = true;
            }
        }

        return $icons;
    }

    /**
     * Hosts that Chromium asks on its own account; a page's requests to them carry Sec-Fetch fields and are kept.
     *
     * @return list<string>
     */
    private static function browserServices(): array
    {
        return ['*.googleapis.com', '*.gvt1.com', 'clients2.google.com', 'accounts.google.com', 'update.googleapis.com', 'safebrowsing.google.com', 'optimizationguide-pa.googleapis.com'];
    }
}
