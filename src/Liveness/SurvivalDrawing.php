<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Ypomna\Core\Liveness\Lifetime;
use Ypomna\Core\Liveness\Survival;
use Ypomna\Core\Liveness\SurvivalPoint;

/** A survival curve with its band, as it is drawn and as a table. */
final readonly class SurvivalDrawing
{
    private const WIDTH = 640.0;
    private const HEIGHT = 260.0;

    /**
     * @param list<SurvivalPoint> $curve
     * @param list<array{days: float, label: string, x: float}> $ticks
     * @param list<array{label: string, share: float, low: float, high: float, known: int}> $table at telling ages
     */
    private function __construct(
        public string $name,
        public int $pages,
        public int $gone,
        public array $curve,
        public string $line,
        public string $band,
        public array $ticks,
        public array $table,
    ) {
    }

    /**
     * @param list<Lifetime> $lives
     * @param float $reach days that the drawing covers
     */
    public static function of(string $name, array $lives, float $reach): self
    {
        // The same pages give the same band each time.
        mt_srand(1 + \count($lives));
        $curve = Survival::of($lives, static fn (int $below): int => mt_rand(0, $below - 1));
        mt_srand();
        $x = static fn (float $days): float => round(self::WIDTH * min(1.0, $days / $reach), 1);
        $y = static fn (float $share): float => round(self::HEIGHT * (1 - $share), 1);
        $line = $upper = '';
        $lower = [];
        $last = null;
        foreach ($curve as $n => $point) {
            // Between two ages nothing is known: the curve steps where the later one begins.
            if (null !== $last) {
                $line .= ' H'.$x($point->days);
                $upper .= ' H'.$x($point->days);
                $lower[] = $x($point->days).','.$y($last->low);
            }
            $line .= (0 === $n ? 'M'.$x($point->days).' '.$y($point->share) : ' V'.$y($point->share));
            $upper .= (0 === $n ? 'M'.$x($point->days).' '.$y($point->high) : ' V'.$y($point->high));
            $lower[] = $x($point->days).','.$y($point->low);
            $last = $point;
        }
        $back = implode('', array_map(static fn (string $at): string => ' L'.str_replace(',', ' ', $at), array_reverse($lower)));
        $table = $ticks = [];
        foreach ([
            'month' => 30, 'quarter' => 91, 'half' => 182, 'year' => 365, 'two' => 730, 'three' => 1_095, 'five' => 1_826, 'ten' => 3_652,
        ] as $label => $days) {
            $point = $days <= $reach ? Survival::at($curve, (float) $days) : null;
            if (null !== $point) {
                $known = \count(array_filter($lives, static fn (Lifetime $life): bool => $life->alive >= $days));
                $table[] = ['label' => $label, 'share' => $point->share, 'low' => $point->low, 'high' => $point->high, 'known' => $known];
                $ticks[] = ['days' => (float) $days, 'label' => $label, 'x' => $x((float) $days)];
            }
        }

        return new self(
            $name,
            \count($lives),
            \count(array_filter($lives, static fn (Lifetime $life): bool => null !== $life->gone)),
            $curve,
            $line,
            '' === $upper ? '' : $upper.$back.' Z',
            $ticks,
            $table,
        );
    }
}
