<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Psr\Clock\ClockInterface;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\App\Network\Extent;
use Ypomna\App\Store\Store;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\Gaps;
use Ypomna\Core\Completeness\Judgement;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\SocketLog;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordHeader;
use Ypomna\Core\Warc\WarcError;

/** Whether a capture worked: what its page asked for held against what was kept, and what it shows read back against what was seen. */
final readonly class CaptureJudge
{
    public function __construct(
        private ClockInterface $clock,
        private ?Originals $originals,
        private ?Store $store,
        private string $browser,
    ) {
    }

    /**
     * @return array{CaptureReport, array<string, mixed>|null} and what the replay showed
     */
    public function judge(OpenCapture $open, Exchange $main): array
    {
        $kept = $open->kept($main);
        $gaps = [
            ...Gaps::of(array_values($kept), $main, $open->visit->wanted, $open->visit->aside),
            ...array_map(
                static fn (string $url): Gap => new Gap($url, GapKind::Media, GapReason::NotRecordable),
                Extent::Whole === $open->task->options->extent ? $open->visit->streams : [],
            ),
        ];
        $troubles = null === $open->visit->seen ? self::ofNoPage($main) : Troubles::of($open->visit->seen);
        if (null !== $open->visit->error && str_contains($open->visit->error, 'TOO_MANY_REDIRECTS')) {
            $troubles = [Trouble::RedirectLoop];
        }
        if ($open->gateway->limited() || $open->visit->isCutShort) {
            $troubles[] = Trouble::CutOff;
        }
        $replay = null;
        $seconds = $open->visit->seconds;
        if (Extent::Whole === $open->task->options->extent && null !== $open->visit->rendering->dom
            && Verdict::Failed !== Judgement::of([], $troubles, null)->verdict) {
            $begun = microtime(true);
            $check = fn (?WalledBrowser $window): array => (new ReplayCheck($this->browser, $this->heldBefore(...)))->check(
                $open->task->target, Url::parse($main->url), $open->task->folder.'/again', $open->visit->text ?? '',
                $open->visit->rendering->pictures, $open->task->options, $open->visit->moving, self::sockets($kept), $window,
            );
            try {
                try {
                    $replay = $check($open->visit->window);
                } catch (BrowserFailed $e) {
                    // What the page did to its browser says nothing of the capture.
                    $replay = null === $open->visit->window ? throw $e : $check(null);
                }
            } catch (BrowserFailed $e) {
                $replay = ['equal' => false, 'error' => $e->getMessage()];
            }
            $seconds['check'] = round(microtime(true) - $begun, 3);
            if (false === ($replay['sockets'] ?? null)) {
                // What was said on them is kept, and does not do: the page asked what it will not ask again.
                array_push($gaps, ...self::unlikeSockets($kept, $gaps));
            }
        }
        $failure = self::failure($open, $main)
            ?? ($open->visit->hasPart ? null : ['no-such-part', 'The part that was asked for is not on the page.']);
        $judgement = null === $failure
            ? Judgement::of($gaps, $troubles, null === $replay ? null : $replay['equal'], $open->visit->nothingElse)
            : new Judgement(Verdict::Failed, $failure[0]);
        if (null !== $open->visit->broken && null === $open->visit->rendering->dom && null === $failure) {
            $judgement = new Judgement(Verdict::Failed, 'browser');
        } elseif (null !== $open->visit->broken && Verdict::Whole === $judgement->verdict) {
            $judgement = new Judgement(Verdict::Gaps, 'browser');
        }
        if (null !== $main->truncated && Verdict::Whole === $judgement->verdict) {
            $judgement = new Judgement(Verdict::Gaps, 'truncated');
        }
        $stray = [];
        $parts = 0;
        foreach ($kept as $exchange) {
            $parts += $exchange->isAnswered() ? 1 : 0;
            if (null !== $open->visit->asked && $exchange->isAnswered() && !isset($open->visit->aside[$exchange->number])
                && !isset($open->visit->asked[$exchange->url])) {
                $stray[] = $exchange->url;
            }
        }

        return [new CaptureReport(
            (string) $open->task->url, $main->url, $main->at, $open->task->options->rendered ? 'rendered' : 'plain', $main->status,
            $open->visit->title, $judgement->verdict, $judgement->reason,
            $failure[1] ?? null, $troubles, $parts, $gaps, array_values(array_unique($stray)), true, $seconds,
            \in_array($main->status, [429, 503], true) ? self::retryAfter($main, $this->clock->now()) : null,
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
     * @param list<Gap> $gaps that are known already
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

    /** For how many seconds the server wants to be left alone (RFC 9110, section 10.2.3). */
    public static function retryAfter(Exchange $main, \DateTimeImmutable $now): int
    {
        try {
            $said = trim((new Answer(Url::parse($main->url), $main))->head->fields->get('Retry-After') ?? '');
        } catch (FetchFailed) {
            $said = '';
        }
        $at = HttpDate::parse($said);

        return max(
            1,
            min(
                86_400,
                1 === preg_match('/^\d{1,6}$/D', $said) ? (int) $said : (null === $at ? 60 : $at->getTimestamp() - $now->getTimestamp()),
            ),
        );
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
    private static function failure(OpenCapture $open, Exchange $main): ?array
    {
        if (null !== $open->visit->error && str_contains($open->visit->error, 'TOO_MANY_REDIRECTS')) {
            return ['redirect-loop', 'The page leads from one address to the next without end.'];
        }
        if ($main->status >= 300 && $main->status < 400) {
            $last = $open->lastFailure();

            return null === $last
                ? ['bad-response', 'The page sends on to what could not be opened.']
                : [$last->failure->value ?? 'bad-response', $last->message ?? 'The page could not be loaded.'];
        }

        return null;
    }
}
