<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

/** Goes through a page as a reader does, so that what loads on sight is loaded. */
final class PageScroll
{
    /** A page that grew so often when its end was reached has none. */
    private const GROWTHS = 20;
    private const MAX_HEIGHT = PageReading::MAX_HEIGHT;

    private const SELECTED = 100_000;
    private const IS_SAFE = '(e.getAttribute("aria-controls") && document.getElementById(e.getAttribute("aria-controls")) &&'
        .' !e.closest("a[href]:not([href^=\\"#\\"])") && !(e.closest("form") && e.matches("button:not([type=button]),input")) &&'
        .' !e.disabled)';

    /** So many steps without anything that comes of them. */
    private const SCREENS = 80;

    private bool $grew = false;

    public function __construct(private readonly PageSession $page)
    {
    }

    /** Scrolls to the bottom in steps, as a reader does, so that what loads on sight is loaded; then back to the top. */
    public function through(float $seconds): void
    {
        $until = microtime(true) + $seconds;
        $height = $growths = $before = $first = 0;
        $asked = $this->page->lastActivity();
        for ($step = 0; $step < 400 && microtime(true) < $until; ++$step) {
            $now = $this->page->evaluate(
                '(() => { const e = document.scrollingElement || document.documentElement; const y = e.scrollTop; e.scrollBy({top:'
                    .' innerHeight * 0.8, behavior: "instant"}); return (e.scrollTop === y ? -1 : 1) * e.scrollHeight; })()',
            );
            $now = \is_int($now) || \is_float($now) ? (int) $now : -1;
            $growths += $before > 0 && abs($now) > $before + $this->page->height / 2 ? 1 : 0;
            $before = abs($now);
            $first = 0 === $step ? $before : $first;
            if (self::SCREENS === $step && $before === $first && $asked === $this->page->lastActivity()) {
                // So far nothing came by being seen: the rest is looked at from its end.
                $this->page->evaluate('(e => e.scrollTo({top: e.scrollHeight, behavior: "instant"}))'
                    .'(document.scrollingElement || document.documentElement)');
            }
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
            $moved = $this->page->evaluate(
                '(() => { let moved = false; for (const e of document.querySelectorAll("body *")) if (e.scrollHeight > e.clientHeight +'
                    .' 60 && e.clientHeight * e.clientWidth > innerHeight * innerWidth * 0.2 && /auto|'
                        .'scroll/.test(getComputedStyle(e).overflowY)) { const y = e.scrollTop; e.scrollBy({top: e.clientHeight * 0.8,'
                            .' behavior: "instant"}); if (e.scrollTop !== y) moved = true; } return moved; })()',
            );
            if (true !== $moved) {
                if ($step > 0) {
                    $this->page->rest(min($until, microtime(true) + 3.0));
                    $this->page->evaluate(
                        'document.querySelectorAll("body *").forEach(e => { if (e.scrollTop > 0) e.scrollTo({top: 0, behavior:'
                            .' "instant"}); })',
                    );
                }

                return;
            }
            PageSession::pause(0.08);
        }
    }

    /**
     * Opens what is folded away and the tabs of the page, so that what loads then is loaded, and leaves all as it was. Only what
     * cannot lead elsewhere is pressed: a tab that says so (WAI-ARIA 1.2, role `tab`), with its panel on the same page, that is
     * no link to another one and sends no form.
     */
    public function unfold(float $until): void
    {
        $folded = $this->indexes(
            '[...document.querySelectorAll("details")].map((e, n) => e.open ? -1 : n).filter(n => n >= 0).slice(0, 200)',
        );
        if ([] !== $folded) {
            $this->page->evaluate(
                '(all => { const d = document.querySelectorAll("details"); all.forEach(n => { if (d[n]) d[n].open = true; }); })('
                    .json_encode($folded).')',
            );
            PageSession::pause(0.2);
            $this->page->rest(min($until, microtime(true) + 4.0));
            $this->page->evaluate(
                '(all => { [...document.querySelectorAll("details")].forEach((e, n) => { e.open = !all.includes(n) && (e.open ||'
                    .' e.hasAttribute("name")); }); })('
                    .json_encode($folded).')',
            );
        }
        $tabs = $this->indexes(
            '[...document.querySelectorAll("[role=tab]")].map((e, n) => '.self::IS_SAFE
                .' ? (e.getAttribute("aria-selected") === "true" ? n + 100000 : n) : -1).filter(n => n >= 0).slice(0, 40)',
        );
        foreach ([
            ...array_filter($tabs, static fn (int $tab): bool => $tab < self::SELECTED),
            ...array_filter($tabs, static fn (int $tab): bool => $tab >= self::SELECTED),
        ] as $tab) {
            // Those that were open at the beginning come last: so they are open in the end.
            if (microtime(true) < $until && \count($tabs) > 1) {
                $this->page->evaluate(
                    '(n => { const e = document.querySelectorAll("[role=tab]")[n]; if (e && '.self::IS_SAFE.') e.click(); })('
                        .($tab % self::SELECTED).')',
                );
                PageSession::pause(0.1);
                $this->page->rest(min($until, microtime(true) + 3.0));
            }
        }
    }

    /** @return list<int> */
    private function indexes(string $expression): array
    {
        $found = $this->page->evaluate($expression);

        return array_values(array_filter(\is_array($found) ? $found : [], \is_int(...)));
    }

    /** Whether the page went on growing each time its end was reached. */
    public function grew(): bool
    {
        return $this->grew;
    }
}
