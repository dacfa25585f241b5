<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Liveness\Lifetimes;
use Ypomna\App\Liveness\SurvivalDrawing;
use Ypomna\App\Liveness\Value\HeldLife;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Liveness\Lifetime;

/** How much of what is held is still alive: as a whole, by host, by year of the first capture. */
#[Allow(Right::Read)]
final class SurvivalController extends AbstractController
{
    /** Groups of each kind that are drawn, those with the most addresses. */
    private const GROUPS = 8;
    private const LEAST = 3;

    public function __construct(private readonly Lifetimes $lifetimes)
    {
    }

    #[Route('/holdings/alive', name: 'survival', methods: ['GET'])]
    public function show(Viewer $viewer): Response
    {
        [$lives, $every] = $this->lifetimes->all($viewer);

        return $this->render(
            'liveness/survival.html.twig', ['groups' => $this->groups($lives), 'every' => $every, 'pages' => \count($lives)],
        );
    }

    #[Route('/holdings/alive.csv', name: 'survival_table', methods: ['GET'])]
    public function table(Viewer $viewer): Response
    {
        $lines = CsvLine::of(['by', 'group', 'addresses', 'gone', 'days', 'share alive', 'low', 'high', 'seen alive at that age']);
        foreach ($this->groups($this->lifetimes->all($viewer)[0]) as $by => $drawings) {
            foreach ($drawings as $drawing) {
                foreach ($drawing->curve as $point) {
                    $lines .= CsvLine::of([
                        $by, $drawing->name, (string) $drawing->pages, (string) $drawing->gone, (string) $point->days,
                        (string) round($point->share, 4), (string) round($point->low, 4), (string) round($point->high, 4),
                        (string) $point->known,
                    ]);
                }
            }
        }

        return new Response(
            $lines,
            Response::HTTP_OK,
            [
                'Content-Type' => 'text/csv; charset=utf-8',
                'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, 'survival.csv'),
            ],
        );
    }

    /**
     * @param list<HeldLife> $lives
     *
     * @return array<string, list<SurvivalDrawing>> `all`, `host`, `year`
     */
    private function groups(array $lives): array
    {
        if ([] === $lives) {
            return [];
        }
        $known = static fn (Lifetime $life): float => $life->gone ?? $life->alive;
        $reach = max(30.0, ...array_map(static fn (HeldLife $one): float => $known($one->life), $lives)) * 1.02;
        $by = ['host' => [], 'year' => []];
        foreach ($lives as $one) {
            $by['host'][$one->host][] = $one->life;
            $by['year'][(string) $one->year][] = $one->life;
        }
        $groups = ['all' => [SurvivalDrawing::of('', array_map(static fn (HeldLife $one): Lifetime => $one->life, $lives), $reach)]];
        foreach ($by as $kind => $some) {
            uasort($some, static fn (array $a, array $b): int => \count($b) <=> \count($a));
            $some = \array_slice(
                array_filter($some, static fn (array $group): bool => \count($group) >= self::LEAST), 0, self::GROUPS, true,
            );
            if ('year' === $kind) {
                ksort($some);
            }
            $groups[$kind] = [];
            foreach ($some as $name => $group) {
                $groups[$kind][] = SurvivalDrawing::of((string) $name, $group, $reach);
            }
        }

        return $groups;
    }
}
