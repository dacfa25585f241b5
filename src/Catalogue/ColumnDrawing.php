<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\Core\Liveness\Sight;
use Ypomna\Core\Liveness\Spell;
use Ypomna\Core\Liveness\Spells;
use Ypomna\Core\Liveness\Standing;

/**
 * The column of an address: time runs downward, each capture is a layer as thick as what changed, and the room between
 * two layers is the time between them. So quiet years are thin, and a rewritten page is a thick band.
 */
final readonly class ColumnDrawing
{
    private const TIME_HEIGHT = 400.0;
    private const LEAST = 3.0;
    private const MOST = 30.0;

    /**
     * @param list<array{layer: Layer, y: float, height: float, kind: string}> $bands
     * @param list<array{y: float, label: string}> $years where a year begins
     * @param list<array{spell: Spell, y: float, height: float}> $life how the page stood from when to when, and where nobody knows
     */
    private function __construct(public float $height, public array $bands, public array $years, public array $life)
    {
    }

    /**
     * @param list<Layer> $layers oldest first
     */
    public static function of(array $layers): self
    {
        if ([] === $layers) {
            return new self(0, [], [], []);
        }
        $first = self::seconds($layers[0]->at);
        $span = max(1.0, self::seconds($layers[\count($layers) - 1]->at) - $first);
        $room = 1 === \count($layers) ? 0.0 : self::TIME_HEIGHT;
        // Many layers are drawn thinner, so that the whole stays in sight.
        $most = \count($layers) > 60 ? max(7.0, self::MOST * 60 / \count($layers)) : self::MOST;
        $gap = \count($layers) > 120 ? 0.5 : 2.0;
        $bands = $years = [];
        $stacked = 0.0;
        $before = null;
        foreach ($layers as $layer) {
            $y = 14.0 + $stacked + $room * (self::seconds($layer->at) - $first) / $span;
            if ($layer->at->format('Y') !== $before?->at->format('Y')) {
                $years[] = ['y' => round($y, 1), 'label' => $layer->at->format('Y')];
            }
            $height = self::LEAST + ($most - self::LEAST) * sqrt(min(1.0, $layer->changed ?? 0.0));
            $bands[] = ['layer' => $layer, 'y' => round($y, 1), 'height' => round($height, 1), 'kind' => self::kind($layer)];
            $stacked += $height + $gap;
            $before = $layer;
        }

        return new self(round(28.0 + $stacked + $room, 1), $bands, self::apart($years), self::life($bands));
    }

    private static function kind(Layer $layer): string
    {
        $standing = Standing::of($layer->status, $layer->leadsOn);

        return Standing::Alive === $standing ? 'kept' : $standing->value;
    }

    /**
     * @param list<array{layer: Layer, y: float, height: float, kind: string}> $bands
     *
     * @return list<array{spell: Spell, y: float, height: float}>
     */
    private static function life(array $bands): array
    {
        $sights = array_map(
            static fn (array $band): Sight => new Sight(
                $band['layer']->at,
                $band['layer']->until ?? $band['layer']->at,
                Standing::of($band['layer']->status, $band['layer']->leadsOn),
            ),
            $bands,
        );

        return array_map(static function (Spell $spell) use ($bands): array {
            $known = null !== $spell->standing;
            $y = $bands[$spell->first]['y'] + ($known ? 0.0 : $bands[$spell->first]['height']);
            $end = $bands[$spell->last]['y'] + ($known ? $bands[$spell->last]['height'] : 0.0);

            return ['spell' => $spell, 'y' => round($y, 1), 'height' => round(max(0.5, $end - $y), 1)];
        }, Spells::of($sights));
    }

    /**
     * Years whose labels would lie over each other are left out.
     *
     * @param list<array{y: float, label: string}> $years
     *
     * @return list<array{y: float, label: string}>
     */
    private static function apart(array $years): array
    {
        $kept = [];
        foreach ($years as $year) {
            if ([] === $kept || $year['y'] - $kept[\count($kept) - 1]['y'] >= 16.0) {
                $kept[] = $year;
            }
        }

        return $kept;
    }

    private static function seconds(\DateTimeImmutable $at): float
    {
        return (float) $at->format('U.u');
    }
}
