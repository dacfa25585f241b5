<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Ypomna\App\Shared\Settings;

/**
 * Waits until nothing is due on a page any more: no request under way, no timer that fires once, no script that computes, no passage
 * that changes. A timer that repeats counts as at rest after five firings without a changed passage.
 */
final class PageRest
{
    /** A timer that fires later than that is not part of the page's coming about. */
    private const HORIZON_SECONDS = 20.0;
    private const SOON_SECONDS = 0.25;
    /** No passage has changed for so long. */
    private const STILL_SECONDS = 0.4;
    /** Longest wait for timers that repeat. */
    private const REPEATING_SECONDS = 20.0;
    /** A page answers within that time unless it computes. */
    private const ANSWER_SECONDS = 2.0;
    private const MOST_FRAMES = 20;

    private readonly string $ask;

    public function __construct(private readonly PageSession $page)
    {
        $this->ask = 'y'.bin2hex(random_bytes(12));
    }

    /** What runs in the page before its own scripts. */
    public function script(): string
    {
        $source = (string) file_get_contents(Settings::program().'/assets/capture-stir.js');

        return str_replace('})(ASK);', '})('.json_encode($this->ask, \JSON_THROW_ON_ERROR).');', $source);
    }

    /**
     * @param float $until Unix time
     *
     * @return bool whether it came to rest; false if the time was over before
     *
     * @throws BrowserFailed if the page broke its process down
     */
    public function await(float $until): bool
    {
        $begun = microtime(true);
        // What is due when waiting begins is waited for; what is set then and then again is not, beyond that.
        $until = min($until, $begun + 2 * self::HORIZON_SECONDS);
        for ($looks = 0; true; ++$looks) {
            $longest = min($until, microtime(true) + PageSession::LONGEST_REST);
            // What a timer asks for is under way soon after it has fired.
            $looks > 0 ? $this->page->rest($longest, self::SOON_SECONDS) : $this->page->rest($longest);
            $frames = $this->stirs();
            $pause = null === $frames
                ? 0.5
                : self::pause($frames, self::HORIZON_SECONDS, $begun + self::REPEATING_SECONDS - microtime(true));
            if (null === $pause) {
                return !\in_array(true, array_column($frames ?? [], 'lively'), true);
            }
            if (microtime(true) >= $until) {
                // What repeats and changes nothing is no part of the page.
                return null !== $frames && null === self::pause($frames, self::HORIZON_SECONDS, 0.0)
                    && !\in_array(true, array_column($frames, 'lively'), true);
            }
            PageSession::pause(max(0.05, min($pause, $until - microtime(true))));
        }
    }

    /**
     * @return list<array{due: list<float>, repeats: list<float>, still: float, lively: bool}>|null null while a script computes
     */
    private function stirs(): ?array
    {
        $expression = '(ask => { let said = null; const hear = event => { said = event.detail; }; document.addEventListener(ask + "!",'
            .' hear); '
            .'document.dispatchEvent(new CustomEvent(ask + "?")); document.removeEventListener(ask + "!", hear); return said; })('
                .json_encode($this->ask, \JSON_THROW_ON_ERROR).')';
        $found = [];
        foreach ([null, ...\array_slice((new PageReading($this->page))->frames(), 0, self::MOST_FRAMES)] as $frame) {
            try {
                $said = $this->page->glance($expression, $frame, self::ANSWER_SECONDS);
            } catch (BrowserFailed $e) {
                if (null !== $frame) {
                    // A frame that went away, or computes: the page's own thread is asked for itself.
                    continue;
                }
                if ($this->page->isBroken()) {
                    throw $e;
                }

                return null;
            }
            $read = \is_string($said) ? json_decode($said, true, 4) : null;
            if (\is_array($read)) {
                $found[] = [
                    'due' => self::numbers($read['due'] ?? null),
                    'repeats' => self::numbers($read['repeats'] ?? null),
                    'still' => (float) (is_numeric($read['still'] ?? null) ? $read['still'] : 1e6),
                    'lively' => true === ($read['lively'] ?? null),
                ];
            }
        }

        return $found;
    }

    /** @return list<float> */
    private static function numbers(mixed $list): array
    {
        return array_values(array_map(floatval(...), array_filter(\is_array($list) ? $list : [], is_numeric(...))));
    }

    /**
     * @param list<array{due: list<float>, repeats: list<float>, still: float, lively: bool}> $frames in milliseconds
     * @param float $repeating seconds that timers which repeat are still waited for
     *
     * @return float|null seconds to wait before it is looked again; null if nothing is due
     */
    private static function pause(array $frames, float $horizon, float $repeating): ?float
    {
        $pause = null;
        foreach ($frames as $frame) {
            $waits = array_filter($frame['due'], static fn (float $due): bool => $due <= 1_000 * $horizon);
            if ($repeating > 0.0) {
                $waits = [...$waits, ...array_filter($frame['repeats'], static fn (float $period): bool => $period <= 1_000 * $repeating)];
            }
            if ($frame['still'] < 1_000 * self::STILL_SECONDS) {
                $waits[] = 1_000 * self::STILL_SECONDS - $frame['still'];
            }
            if ([] !== $waits) {
                $pause = min($pause ?? 1.0, max(0.05, min($waits) / 1_000));
            }
        }

        return $pause;
    }
}
