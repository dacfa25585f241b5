<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Browser;

/** Goes through a page as a reader does, so that what loads on sight is loaded. */
final class PageScroll
{
    /** A page that grew so often when its end was reached has none. */
    private const GROWTHS = 20;
    private const MAX_HEIGHT = PageReading::MAX_HEIGHT;

    private bool $grew = false;

    public function __construct(private readonly PageSession $page)
    {
    }

    /** Scrolls to the bottom in steps, as a reader does, so that what loads on sight is loaded; then back to the top. */
    public function through(float $seconds): void
    {
        $until = microtime(true) + $seconds;
        $height = $growths = $before = 0;
        for ($step = 0; $step < 400 && microtime(true) < $until; ++$step) {
            $now = $this->page->evaluate('(() => { const e = document.scrollingElement || document.documentElement; const y = e.scrollTop; e.scrollBy({top: innerHeight * 0.8, behavior: "instant"}); return (e.scrollTop === y ? -1 : 1) * e.scrollHeight; })()');
            $now = \is_int($now) || \is_float($now) ? (int) $now : -1;
            $growths += $before > 0 && abs($now) > $before + $this->page->height / 2 ? 1 : 0;
            $before = abs($now);
            if ($growths >= self::GROWTHS || ($growths > 2 && $before > self::MAX_HEIGHT)) {
                $this->grew = true;
                break;
            }
            if ($now >= 0) {
                PageSession::pause(0.08);
                continue;
            }
            // At its end: more may come, once, or for ever.
            $this->page->rest(min($until, microtime(true) + 5.0));
            $grown = $this->page->evaluate('(document.scrollingElement || document.documentElement).scrollHeight');
            $grown = \is_int($grown) || \is_float($grown) ? (int) $grown : 0;
            if ($grown <= -$now + 8 || $grown <= $height + 8) {
                break;
            }
            $height = $grown;
        }
        $this->inside($until);
        $this->grew = $this->grew || ($growths > 2 && microtime(true) >= $until);
        $this->page->evaluate('(document.scrollingElement || document.documentElement).scrollTo({top: 0, behavior: "instant"})');
        $this->page->rest(min($until, microtime(true) + 3.0));
    }

    /** Parts of a page that scroll by themselves, where they are large: each is gone through, too. */
    private function inside(float $until): void
    {
        for ($step = 0; $step < 120 && microtime(true) < $until; ++$step) {
            $moved = $this->page->evaluate('(() => { let moved = false; for (const e of document.querySelectorAll("body *")) if (e.scrollHeight > e.clientHeight + 60 && e.clientHeight * e.clientWidth > innerHeight * innerWidth * 0.2 && /auto|scroll/.test(getComputedStyle(e).overflowY)) { const y = e.scrollTop; e.scrollBy({top: e.clientHeight * 0.8, behavior: "instant"}); if (e.scrollTop !== y) moved = true; } return moved; })()');
            if (true !== $moved) {
                if ($step > 0) {
                    $this->page->rest(min($until, microtime(true) + 3.0));
                    $this->page->evaluate('document.querySelectorAll("body *").forEach(e => { if (e.scrollTop > 0) e.scrollTo({top: 0, behavior: "instant"}); })');
                }

                return;
            }
            PageSession::pause(0.08);
        }
    }

    /** Whether the page went on growing each time its end was reached. */
    public function grew(): bool
    {
        return $this->grew;
    }
}
