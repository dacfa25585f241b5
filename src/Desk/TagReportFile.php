<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Psr\Clock\ClockInterface;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Twig\Environment;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Desk\Value\ItemGroup;
use Ypomna\App\Desk\Value\ReportForm;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\CsvCells;

/** The report of a tag as a file that is taken along: everything in it can be found again by permanent addresses. */
final readonly class TagReportFile
{
    private const COLUMNS = [
        'dossier', 'title', 'kind', 'summary', 'tags', 'due', 'important', 'url', 'capturedAt', 'capture', 'item', 'fields',
    ];

    public function __construct(
        private TagReport $report,
        private Environment $twig,
        private UrlGeneratorInterface $urls,
        private ClockInterface $clock,
    ) {
    }

    /** @return iterable<string> */
    public function pieces(Viewer $viewer, Tag $tag, ReportForm $form): iterable
    {
        $groups = $this->report->of($viewer, $tag);

        return ReportForm::Table === $form ? $this->table($groups) : [$this->text($viewer, $tag, $groups, $form)];
    }

    /**
     * For paper.
     *
     * @return array{string, list<string>} HTML with everything in it, and the codes of the captures of which it speaks
     */
    public function printed(Viewer $viewer, Tag $tag): array
    {
        $groups = $this->report->of($viewer, $tag);
        $captures = [];
        foreach ($groups as $group) {
            foreach ($group->items as $shown) {
                if (null !== $shown->capture) {
                    $captures[$shown->capture->code] = $shown->capture->code;
                }
            }
        }

        return [$this->text($viewer, $tag, $groups, ReportForm::Html), array_values($captures)];
    }

    /** @param list<ItemGroup> $groups */
    private function text(Viewer $viewer, Tag $tag, array $groups, ReportForm $form): string
    {
        return $this->twig->render('desk/tag_report.'.$form->value.'.twig', [
            'tag' => $tag, 'groups' => $groups, 'by' => $viewer->name, 'at' => $this->clock->now(),
        ]);
    }

    /**
     * RFC 4180; an item that lies in two dossiers has two rows.
     *
     * @param list<ItemGroup> $groups
     *
     * @return \Generator<int, string>
     */
    private function table(array $groups): \Generator
    {
        yield CsvCells::row(self::COLUMNS);
        foreach ($groups as $group) {
            foreach ($group->items as $shown) {
                yield CsvCells::row($this->cells($group, $shown));
            }
        }
    }

    /** @return list<string> */
    private function cells(ItemGroup $group, ShownItem $shown): array
    {
        $item = $shown->item;
        $capture = $shown->capture;

        return [
            $group->dossier->name ?? '', $shown->name(), $item->kind->value, $item->summary, implode('/', $shown->tags),
            $item->due?->format('Y-m-d') ?? '', $item->important ? 'true' : 'false', $capture->url ?? $item->url ?? '',
            $capture?->capturedAt->format('Y-m-d\TH:i:s.v\Z') ?? '', null === $capture ? '' : $this->address('read', $capture->code),
            $this->address('item', $item->code),
            [] === $item->fields ? '' : json_encode(
                $item->fields, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES,
            ),
        ];
    }

    private function address(string $route, string $code): string
    {
        return $this->urls->generate($route, ['code' => $code], UrlGeneratorInterface::ABSOLUTE_URL);
    }
}
