<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception as DatabaseException;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\Comparisons;
use Ypomna\App\Liveness\Event\AddressChecked;
use Ypomna\App\Liveness\Event\CheckBegins;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchedPage;
use Ypomna\Core\Compare\Weighing;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveVerdict;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Recurrence\ChangeNotice;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\Schedule;
use Ypomna\Core\Warc\WarcError;

/**
 * What follows from a check of a watched page: whether it changed in substance since the check before, whether that is to be
 * told, whether it is kept, and when the next check is due.
 */
final readonly class WatchEvaluator
{
    /** Checks that are remembered. */
    private const SEEN = 200;
    private const LARGEST = 1_048_576;
    /** A page with fewer words in what the server sends, and with scripts, is made by those. */
    private const BLIND = 20;
    /** A page that is gone is checked so rarely, in days. */
    private const GONE = 30.0;
    private const MOST_DAYS = 60.0;
    private const LEAST_DAYS = 0.25;
    private const AFTER_FAULT = '+1 day';

    public function __construct(
        private WatchedPages $pages,
        private WatchRequests $watches,
        private WatchSettingsRepository $settings,
        private WatchEvents $events,
        private CaptureRequests $captures,
        private JobList $jobs,
        private Connection $database,
        private AddressRepository $addresses,
        private CaptureRepository $finder,
        private Comparisons $comparisons,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private DataFolder $folder,
    ) {
    }

    /** Gives the server what it can say by that nothing changed (RFC 9110, section 13.1). */
    #[AsEventListener]
    public function onCheckBegins(CheckBegins $event): void
    {
        $event->conditions = $this->validators($this->pages->ofAddress($event->liveId));
    }

    /**
     * @param list<WatchedPage> $pages of one address
     *
     * @return string header fields; '' where nothing is known to compare with
     */
    private function validators(array $pages): string
    {
        $first = $pages[0] ?? null;
        foreach ($pages as $page) {
            if ($page->etag !== $first?->etag || $page->modified !== $first?->modified || $page->isBlind || !is_file($this->place($page))) {
                return '';
            }
        }
        $fields = null === $first?->etag ? '' : 'If-None-Match: '.$first->etag."\r\n";

        return $fields.(null === $first?->modified ? '' : 'If-Modified-Since: '.$first->modified."\r\n");
    }

    #[AsEventListener]
    public function onAddressChecked(AddressChecked $event): void
    {
        foreach ($this->pages->ofAddress($event->liveId) as $page) {
            $watch = $this->watches->byId($page->watchId);
            try {
                if (null !== $watch) {
                    $this->page($watch, $page, $event->result, $event->assessment, $event->isGone);
                }
            } catch (DatabaseException $e) {
                throw $e;
            } catch (\Throwable $e) {
                // A page that breaks what compares it must not be asked again and again for that.
                $this->logger->error('A watched page broke something.', ['url' => $page->url, 'exception' => $e]);
                $this->pages->update(
                    $page->id, ['next_at' => MomentType::text($this->clock->now()->modify(self::AFTER_FAULT)), 'trouble' => 'fault'],
                );
            }
        }
    }

    /** The capture of a page that changed is there, or could not be made. */
    #[AsEventListener]
    public function onCaptureEnded(CaptureEnded $event): void
    {
        $page = $this->pages->ofJob($event->jobCode);
        if (null !== $page) {
            $this->ended($page, $event->captureCode, $event->reason);
        }
    }

    /** Sees to captures whose end was not heard of, since a worker was ended just then. */
    public function gather(): void
    {
        $pages = $this->pages->ordered();
        $ended = $this->jobs->endedOf(array_values(array_filter(
            array_map(static fn (WatchedPage $page): ?string => $page->jobCode, $pages), is_string(...),
        )));
        foreach ($pages as $page) {
            $end = $ended[$page->jobCode ?? ''] ?? null;
            if (null !== $end) {
                $this->ended($page, $end->captureCode, $end->reason);
            }
        }
    }

    private function ended(WatchedPage $page, ?string $captureCode, ?string $reason): void
    {
        $watch = $this->watches->byId($page->watchId);
        $pending = $page->pending ?? [];
        $before = \is_string($pending['before'] ?? null) ? $pending['before'] : null;
        $finding = null;
        if (isset($pending['told']) && \is_array($pending['told'])) {
            $told = $pending['told'];
            $finding = new ChangeNotice(
                \is_string($told[0] ?? null) ? $told[0] : '',
                \is_string($told[1] ?? null) ? $told[1] : '',
                \is_int($told[2] ?? null) ? $told[2] : 0,
            );
        } elseif (true === ($pending['blind'] ?? null) && null !== $before && null !== $captureCode && null !== $watch) {
            $finding = $this->notice($watch, $page->url, $before, $captureCode);
        }
        // It is told once, whoever else comes upon the same end.
        $this->database->transactional(function () use ($page, $captureCode, $reason, $watch, $finding, $before): void {
            if (!$this->pages->claim($page)) {
                return;
            }
            $this->pages->update($page->id, ['pending' => null, 'trouble' => null === $captureCode ? 'not-kept '.($reason ?? '') : null]);
            if (null !== $finding && null !== $watch) {
                $this->events->enter($watch, EventKind::Changed, $page->id, $page->url, $finding, $before, $captureCode);
            }
        });
    }

    /** Days until the next check of a page, by hand or found. */
    public function interval(Watch $watch, WatchedPage $page, float $bound): float
    {
        if ($page->isGone) {
            return max(self::GONE, $watch->everyDays ?? 0.0);
        }

        return $watch->everyDays ?? (new Schedule(1.0, self::LEAST_DAYS, self::MOST_DAYS))->interval($page->belief(), $bound);
    }

    public static function schedule(float $budget): Schedule
    {
        return new Schedule($budget, self::LEAST_DAYS, self::MOST_DAYS);
    }

    private function page(Watch $watch, WatchedPage $page, CheckResult $result, Assessment $judged, bool $isGone): void
    {
        $now = $this->clock->now();
        $values = ['checked_at' => MomentType::text($now), 'is_gone' => $isGone ? 1 : 0];
        if ($isGone && !$page->isGone) {
            $last = $this->lastAlive($watch, $page->url);
            $this->events->enter(
                $watch, EventKind::Vanished, $page->id, $page->url, new ChangeNotice('', implode(' ', $judged->evidence)), $last?->code,
            );
        } elseif (!$isGone && $page->isGone
            && \in_array($judged->verdict, [LiveVerdict::Alive, LiveVerdict::Moved, LiveVerdict::Changed], true)) {
            $this->events->enter($watch, EventKind::Returned, $page->id, $page->url, new ChangeNotice('', implode(' ', $judged->evidence)));
        }
        $isThere = \in_array($judged->verdict, [LiveVerdict::Alive, LiveVerdict::Moved, LiveVerdict::Changed], true);
        $changed = $isThere ? $this->compare($watch, $page, $result, $values) : null;
        $days = null === $page->checkedAt ? 0.0 : ($now->getTimestamp() - $page->checkedAt->getTimestamp()) / 86_400;
        $seen = $page->seen;
        if (null !== $changed && $days > 0.0005) {
            $seen = \array_slice([...$seen, [round($days, 4), $changed ? 1 : 0]], -self::SEEN);
            $values['seen'] = json_encode($seen, \JSON_THROW_ON_ERROR);
        }
        if (true === $changed) {
            $values['changed_at'] = MomentType::text($now);
        }
        // With what was just seen, the next check is planned; one that found trouble comes again as its verdict wants.
        $again = WatchedPage::of([
            'id' => $page->id, 'watch_id' => $page->watchId, 'live_id' => $page->liveId, 'live_url' => $page->url,
            'next_at' => MomentType::text($now), 'interval_days' => $page->intervalDays, 'seen' => json_encode($seen, \JSON_THROW_ON_ERROR),
            'is_blind' => 0, 'is_gone' => $isGone ? 1 : 0,
        ]);
        $interval = $this->interval($watch, $again, $this->settings->read()->bound);
        $values['interval_days'] = $interval;
        $values['next_at'] = MomentType::text($now->modify(\sprintf('+%d seconds', max(30, (int) (86_400 * $interval)))));
        $this->pages->update($page->id, $values);
    }

    /**
     * @param array<string, mixed> $values what is written down about the page
     *
     * @return bool|null whether it changed in substance; null where there is nothing to compare with
     */
    private function compare(Watch $watch, WatchedPage $page, CheckResult $result, array &$values): ?bool
    {
        if (304 === $result->status) {
            return false;
        }
        $body = substr($result->body, 0, self::LARGEST);
        $values['etag'] = null === $result->etag || \strlen($result->etag) > 490 ? null : $result->etag;
        $values['modified'] = null === $result->modified || \strlen($result->modified) > 90 ? null : $result->modified;
        $place = $this->place($page);
        $before = is_file($place) ? @gzdecode((string) file_get_contents($place), 4 * self::LARGEST) : false;
        $new = $this->document($body, $result);
        $isBlind = $result->isHtml() && str_word_count($new->text()) < self::BLIND && false !== stripos($body, '<script');
        $values['is_blind'] = $isBlind ? 1 : 0;
        if ($isBlind) {
            // What the server sends says nothing; a browser has to look.
            if ($watch->keeps && null === $page->jobCode) {
                $this->order($watch, $page, ['blind' => true], $values);
            }

            return null;
        }
        if (\is_string($before) && $before === $body) {
            return false;
        }
        if (!\is_string($before)) {
            $this->write($place, $body);
            $values['trouble'] = $watch->condition()->isIn($new) ? null : 'condition';
            if ($watch->keeps && null === $this->lastAlive($watch, $page->url)) {
                $this->order($watch, $page, [], $values);
            }

            return null;
        }
        $old = $this->document($before, $result);
        $weighing = $this->weighing($watch, $page->url);
        $changed = null !== (new Condition())->between($old, $new, $weighing);
        $finding = $watch->condition()->between($old, $new, $weighing);
        if (!$changed && null === $finding) {
            return false;
        }
        $this->write($place, $body);
        if ($watch->keeps && null === $page->jobCode) {
            $this->order($watch, $page, null === $finding ? [] : ['told' => [$finding->before, $finding->after, $finding->more]], $values);
        } elseif (null !== $finding) {
            $this->events->enter($watch, EventKind::Changed, $page->id, $page->url, $finding, $this->lastAlive($watch, $page->url)?->code);
        }

        return $changed;
    }

    /**
     * @param array<string, mixed> $pending
     * @param array<string, mixed> $values
     */
    private function order(Watch $watch, WatchedPage $page, array $pending, array &$values): void
    {
        $values['job_code'] = $this->captures->ask(new Actor($watch->agent), $page->url, confidential: $watch->limited,
            brought: false)->code;
        $values['pending'] = json_encode(
            $pending + ['before' => $this->lastAlive($watch, $page->url)?->code],
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    /**
     * What there is to tell of the change between two captures of a page.
     *
     * @return ChangeNotice|null null if there is nothing, or one of them cannot be read
     */
    public function notice(Watch $watch, string $url, string $before, string $after): ?ChangeNotice
    {
        $viewer = $this->watches->eyes($watch);
        $old = $this->finder->byCode($viewer, $before);
        $new = $this->finder->byCode($viewer, $after);
        if (null === $old || null === $new) {
            return null;
        }
        try {
            $compared = $this->comparisons->between($old, $new);
        } catch (WarcError) {
            return null;
        }

        return $watch->condition()->between($compared->before, $compared->after, $this->weighing($watch, $url));
    }

    private function lastAlive(Watch $watch, string $url): ?Capture
    {
        $viewer = $this->watches->eyes($watch);
        $address = $this->addresses->of($viewer, $url);

        return null === $address ? null : $this->finder->lastAlive($viewer, $address);
    }

    private function weighing(Watch $watch, string $url): Weighing
    {
        $viewer = $this->watches->eyes($watch);
        $address = $this->addresses->of($viewer, $url);

        return null === $address ? new Weighing() : $this->comparisons->weighing($address);
    }

    private function document(string $body, CheckResult $result): Document
    {
        return $result->isHtml()
            ? Document::fromHtml($body, $result->contentType, (string) $result->final)
            : Document::fromText(1 === preg_match('#^text/#', $result->type ?? '') ? $body : hash('sha256', $body));
    }

    private function place(WatchedPage $page): string
    {
        return $this->folder->watched().'/'.($page->id % 100).'/'.$page->id.'.gz';
    }

    private function write(string $place, string $body): void
    {
        $files = new Filesystem();
        $files->mkdir(\dirname($place));
        $files->dumpFile($place, (string) gzencode($body, 5));
    }
}
