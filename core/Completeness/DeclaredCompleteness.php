<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** What a file says of whether its capture worked: of whoever's hand, so only what is of a known form is taken from it. */
final class DeclaredCompleteness
{
    private const MOST = 2_000;

    /**
     * @return array{
     *     verdict: string, reason: string|null, troubles: list<string>, gaps: list<array{url: string, kind: string, reason: string}>,
     *     replay: array{equal: bool, mode: string, picture: float}|null, extent: string|null,
     *     places: array{page: array{int, int}, gaps: list<array{url: string, box: list<int>}>}|null,
     * }|null null if it says nothing that is known
     */
    public static function read(mixed $data): ?array
    {
        $verdict = \is_array($data) && \is_string($data['verdict'] ?? null) ? Verdict::tryFrom($data['verdict']) : null;
        if (null === $verdict || !\is_array($data)) {
            return null;
        }
        $troubles = $gaps = [];
        foreach (\is_array($data['troubles'] ?? null) ? $data['troubles'] : [] as $trouble) {
            $known = \is_string($trouble) ? Trouble::tryFrom($trouble) : null;
            if (null !== $known && !\in_array($known->value, $troubles, true)) {
                $troubles[] = $known->value;
            }
        }
        foreach (\is_array($data['gaps'] ?? null) ? $data['gaps'] : [] as $gap) {
            if (\is_array($gap) && \is_string($gap['url'] ?? null) && \is_string($gap['kind'] ?? null) && \is_string($gap['reason'] ?? null)
                && \count($gaps) < self::MOST) {
                $gaps[] = [
                    'url' => mb_scrub(mb_strcut($gap['url'], 0, 8_192)),
                    'kind' => (GapKind::tryFrom($gap['kind']) ?? GapKind::Other)->value,
                    'reason' => (GapReason::tryFrom($gap['reason']) ?? GapReason::NotRequested)->value,
                ];
            }
        }
        $replay = $data['replay'] ?? null;

        return [
            'verdict' => $verdict->value,
            'reason' => \is_string($data['reason'] ?? null) ? mb_scrub(mb_strcut($data['reason'], 0, 40)) : null, 'troubles' => $troubles,
            'gaps' => $gaps,
            'replay' => \is_array($replay) && \is_bool($replay['equal'] ?? null)
                ? [
                    'equal' => $replay['equal'],
                    'mode' => 'alive' === ($replay['mode'] ?? '') ? 'alive' : 'still',
                    'picture' => is_numeric($replay['picture'] ?? null) ? max(0.0, min(1.0, (float) $replay['picture'])) : 0.0,
                ]
                : null,
            'extent' => \in_array($data['extent'] ?? null, ['text', 'part', 'address'], true) ? $data['extent'] : null,
            'places' => self::places($data['places'] ?? null),
        ];
    }

    /**
     * @return array{page: array{int, int}, gaps: list<array{url: string, box: list<int>}>}|null
     */
    private static function places(mixed $data): ?array
    {
        $page = \is_array($data) ? self::lengths($data['page'] ?? null, 2) : null;
        if (null === $page || !\is_array($data) || $page[0] < 1 || $page[1] < 1) {
            return null;
        }
        $gaps = [];
        foreach (\is_array($data['gaps'] ?? null) ? \array_slice($data['gaps'], 0, self::MOST) : [] as $gap) {
            $box = \is_array($gap) ? self::lengths($gap['box'] ?? null, 4) : null;
            if (null !== $box && \is_array($gap) && \is_string($gap['url'] ?? null)) {
                $gaps[] = ['url' => mb_scrub(mb_strcut($gap['url'], 0, 8_192)), 'box' => $box];
            }
        }

        return [] === $gaps ? null : ['page' => [$page[0], $page[1]], 'gaps' => $gaps];
    }

    /** @return list<int>|null */
    private static function lengths(mixed $list, int $count): ?array
    {
        if (!\is_array($list) || $count !== \count($list)) {
            return null;
        }
        $lengths = [];
        foreach ($list as $length) {
            if (!\is_int($length) || abs($length) > 1_000_000) {
                return null;
            }
            $lengths[] = $length;
        }

        return $lengths;
    }
}
