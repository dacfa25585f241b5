<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/** Compares what a page asked for, and what it refers to, with what was kept. */
final class Gaps
{
    /**
     * @param list<Exchange> $exchanges all of the capture
     * @param Exchange $main the one that brought the page
     * @param list<RequestedPart> $wanted what page and styles refer to
     * @param array<int, true> $aside numbers of exchanges that the page did not ask for itself
     *
     * @return list<Gap> each address once
     */
    public static function of(array $exchanges, Exchange $main, array $wanted, array $aside = []): array
    {
        $kept = $referred = [];
        foreach ($exchanges as $exchange) {
            if (null === GapReason::of($exchange) && !$exchange->partial) {
                $kept[$exchange->url] = true;
            }
        }
        foreach ($wanted as $one) {
            $referred += array_fill_keys($one->any, $one->kind);
            if ($one->print) {
                $kept += array_fill_keys($one->any, true);
            }
        }
        $referred += self::behindRedirects($exchanges, $referred);
        $gaps = [];
        foreach ($exchanges as $exchange) {
            $reason = GapReason::of($exchange);
            if (null === $reason && 1 === preg_match('#mpegurl|dash\+xml|vnd\.ms-sstr\+xml#', $exchange->mime ?? '')) {
                // A list of pieces, of which a player takes what it likes.
                $gaps[$exchange->url] = new Gap($exchange->url, GapKind::Media, GapReason::NotRecordable);
            }
            // What is fetched ahead of another page is no part of this one.
            if (\in_array($exchange->destination, ['prefetch', 'manifest'], true) || null === $reason
                || (isset($kept[$exchange->url]) && GapReason::NotRecordable !== $reason) || isset($aside[$exchange->number])
                || $exchange === $main) {
                continue;
            }
            if (FailureReason::Cancelled === $exchange->failure && !isset($referred[$exchange->url])) {
                // A script that gives its own request up does not miss the answer.
                continue;
            }
            $kind = null === $exchange->destination ? $referred[$exchange->url] ?? null : null;
            $gap = new Gap($exchange->url, $kind ?? GapKind::of($exchange), $reason);
            $gaps[$gap->url] ??= $gap;
        }
        foreach ($wanted as $one) {
            $isThere = [] !== array_filter($one->any, static fn (string $url): bool => isset($kept[$url]));
            $isListed = [] !== array_filter($one->any, static fn (string $url): bool => isset($gaps[$url]) || $url === $main->url);
            if (!$isThere && !$isListed && !$one->perhaps) {
                $gaps[$one->any[0]] ??= new Gap($one->any[0], $one->kind, self::whyNot($one, $exchanges));
            }
        }

        return array_values($gaps);
    }

    /**
     * What an address led to is of its kind.
     *
     * @param list<Exchange> $exchanges
     * @param array<string, GapKind> $referred
     *
     * @return array<string, GapKind> by address
     */
    private static function behindRedirects(array $exchanges, array $referred): array
    {
        $found = [];
        foreach ($exchanges as $exchange) {
            $kind = $found[$exchange->url] ?? $referred[$exchange->url] ?? null;
            $kind ??= null === $exchange->destination ? null : GapKind::of($exchange);
            $url = null !== $kind && $exchange->status >= 300 && $exchange->status < 400 ? Url::tryParse($exchange->url) : null;
            try {
                $target = null === $url ? null : (new Answer($url, $exchange))->redirect();
            } catch (FetchFailed) {
                continue;
            }
            if (null !== $target && null !== $kind) {
                $found[(string) $target->withoutFragment()] = $kind;
            }
        }

        return $found;
    }

    /**
     * We may have tried in the page's stead.
     *
     * @param list<Exchange> $exchanges
     */
    private static function whyNot(RequestedPart $wanted, array $exchanges): GapReason
    {
        foreach ($exchanges as $exchange) {
            if (\in_array($exchange->url, $wanted->any, true)) {
                return GapReason::of($exchange) ?? GapReason::NotRequested;
            }
        }

        return GapReason::NotRequested;
    }
}
