<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Link;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\Picture;

/** A comparison in words and as data, with what rules pass over told apart. */
final class ComparisonReport
{
    /** @var list<WeighedChange> */
    public readonly array $changes;
    /** @var list<WeighedChange> */
    public readonly array $passedOver;
    /** @var array{added: list<Link>, removed: list<Link>, retargeted: list<array{Link, Link}>} */
    public readonly array $links;
    /** @var array{added: list<Picture>, removed: list<Picture>, changed: list<array{Picture, Picture}>} */
    public readonly array $pictures;
    /** How many links and pictures rules pass over. */
    public readonly int $alsoPassedOver;
    /** @var list<HiddenChange> */
    public readonly array $hidden;
    /** Whether there is more of a page than was compared. */
    public readonly bool $isCut;

    /** @param bool $leaveOut whether what rules cover is left out of the changes; else it is only weighed so */
    public function __construct(
        public readonly PageComparison $comparison,
        private readonly Document $old,
        private readonly Document $new,
        private readonly Weighing $weighing,
        bool $leaveOut = true,
    ) {
        $changes = $passedOver = [];
        foreach ($comparison->changes as $change) {
            $weighed = $weighing->of($change);
            if ($leaveOut && $weighing->isByRule($change)) {
                $passedOver[] = $weighed;
            } else {
                $changes[] = $weighed;
            }
        }
        $this->changes = $changes;
        $this->passedOver = $passedOver;
        $this->isCut = $old->isCut || $new->isCut;
        $this->hidden = HiddenChange::between($old, $new);
        $this->links = $leaveOut
            ? $this->linksThatCount($comparison->links)
            : [
                'added' => $comparison->links->added, 'removed' => $comparison->links->removed,
                'retargeted' => $comparison->links->retargeted,
            ];
        $this->pictures = $leaveOut
            ? $this->picturesThatCount($comparison->pictures)
            : [
                'added' => $comparison->pictures->added, 'removed' => $comparison->pictures->removed,
                'changed' => $comparison->pictures->changed,
            ];
        $this->alsoPassedOver = \count([
            ...$comparison->links->added, ...$comparison->links->removed, ...$comparison->links->retargeted,
            ...$comparison->pictures->added, ...$comparison->pictures->removed, ...$comparison->pictures->changed,
        ])
            - \count([
                ...$this->links['added'], ...$this->links['removed'], ...$this->links['retargeted'], ...$this->pictures['added'],
                ...$this->pictures['removed'], ...$this->pictures['changed'],
            ]);
    }

    /**
     * Patterns of rules that took too long over this comparison: they pass over nothing in it.
     *
     * @return list<string>
     */
    public function rulesSetAside(): array
    {
        return $this->weighing->setAside();
    }

    /** How much of the text differs, 0 to 1, noise aside; what only looks otherwise counts little. */
    public function changedShare(): float
    {
        $all = 0;
        foreach ([...$this->old->passages, ...$this->new->passages] as $passage) {
            $all += \strlen($passage->key);
        }
        $different = 0.0;
        foreach ($this->changes as $weighed) {
            $change = $weighed->change;
            $length = \strlen($change->old->key ?? '') + \strlen($change->new->key ?? '');
            $different += match ($weighed->weight) {
                Weight::Noise => 0.0,
                Weight::Surface => 0.1 * $length,
                Weight::Substance => ChangeKind::Changed === $change->kind
                    ? $length * max(0.05, 1 - (new TextLikeness())->of($change->old->key ?? '', $change->new->key ?? ''))
                    : $length,
            };
        }

        return 0 === $all ? 0.0 : min(1.0, $different / $all);
    }

    public function isIdentical(): bool
    {
        return [] === $this->changes && [] === $this->comparison->meta && [] === array_merge(...array_values($this->links))
            && [] === array_merge(...array_values($this->pictures));
    }

    /**
     * @return array{added: list<Link>, removed: list<Link>, retargeted: list<array{Link, Link}>}
     */
    private function linksThatCount(LinkComparison $links): array
    {
        $counts = fn (Link $link, Document $page): bool => !$this->weighing->passesOverPlace($page->passages[$link->passage] ?? null);
        $removed = array_filter($links->removed, fn (Link $link): bool => $counts($link, $this->old));
        $added = array_filter($links->added, fn (Link $link): bool => $counts($link, $this->new));
        // What differs only in what a pattern passes over is the same link.
        $byRest = [];
        foreach ($added as $j => $after) {
            foreach ($this->weighing->leftOfAddress($after->href) as $rest) {
                $byRest[$rest][] = $j;
            }
        }
        foreach ([] === $byRest ? [] : $removed as $i => $before) {
            foreach ($this->weighing->leftOfAddress($before->href) as $rest) {
                while ([] !== ($byRest[$rest] ?? [])) {
                    $j = array_shift($byRest[$rest]);
                    if (isset($added[$j])) {
                        unset($removed[$i], $added[$j]);
                        continue 3;
                    }
                }
            }
        }
        $retargeted = array_filter(
            $links->retargeted,
            fn (array $pair): bool => $counts($pair[0], $this->old) && $counts($pair[1], $this->new)
                && !$this->weighing->passesOverAddresses($pair[0]->href, $pair[1]->href),
        );

        return ['added' => array_values($added), 'removed' => array_values($removed), 'retargeted' => array_values($retargeted)];
    }

    /**
     * @return array{added: list<Picture>, removed: list<Picture>, changed: list<array{Picture, Picture}>}
     */
    private function picturesThatCount(PictureComparison $pictures): array
    {
        $counts = fn (Picture $picture): bool => !$this->weighing->passesOverPath($picture->path);

        return [
            'added' => array_values(array_filter($pictures->added, $counts)),
            'removed' => array_values(array_filter($pictures->removed, $counts)),
            'changed' => array_values(array_filter(
                $pictures->changed,
                fn (array $pair): bool => $counts($pair[0]) && $counts($pair[1])
                    && !$this->weighing->passesOverAddresses($pair[0]->src, $pair[1]->src),
            )),
        ];
    }

    /**
     * The contract of the `compare` command.
     *
     * @return array<string, mixed>
     */
    public function data(): array
    {
        $link = static fn (Link $link): array => ['text' => $link->text, 'href' => $link->href];
        $src = static fn (Picture $picture): string => $picture->src;

        return [
            'identical' => $this->isIdentical(),
            'similarity' => round($this->comparison->similarity, 6),
            'text' => ['changes' => array_map(self::change(...), $this->changes)],
            'links' => [
                'added' => array_map($link, $this->links['added']), 'removed' => array_map($link, $this->links['removed']),
                'retargeted' => array_map(
                    static fn (array $pair): array => ['text' => $pair[1]->text, 'old' => $pair[0]->href, 'new' => $pair[1]->href],
                    $this->links['retargeted'],
                ),
            ],
            'images' => [
                'added' => array_map($src, $this->pictures['added']), 'removed' => array_map($src, $this->pictures['removed']),
                // However often a page shows it, a picture that changed is told once.
                'changed' => array_values(array_unique(array_map(
                    static fn (array $pair): string => $pair[1]->src, $this->pictures['changed'],
                ))),
            ],
            'meta' => ['changed' => $this->comparison->meta],
            'hidden' => array_map(
                static fn (HiddenChange $one): array => ['kind' => $one->kind->value, 'text' => $one->text], $this->hidden,
            ),
            'metadata' => PartComparison::metadata($this->old, $this->new),
            'parts' => PartComparison::parts($this->old, $this->new),
            'cut' => $this->isCut,
            'rulesSetAside' => $this->rulesSetAside(),
            'passedOver' => ['changes' => array_map(self::change(...), $this->passedOver), 'others' => $this->alsoPassedOver],
        ];
    }

    /**
     * @return array<string, mixed>
     */
    private static function change(WeighedChange $weighed): array
    {
        $change = $weighed->change;
        $passage = $change->new ?? $change->old;
        $row = ['op' => $change->kind->value, 'old' => $change->old?->text, 'new' => $change->new?->text];
        if ($change->moved) {
            $row['moved'] = true;
        }

        return $row + [
            'kind' => $passage?->kind->value, 'heading' => $passage?->heading, 'weight' => $weighed->weight->value,
            'reason' => $weighed->reason,
            'telling' => array_map(static fn (Telling $one): string => $one->value, $weighed->telling),
        ];
    }

    /** For people, in lines. */
    public function text(): string
    {
        $lines = [];
        foreach ($this->changes as $weighed) {
            $change = $weighed->change;
            $lines[] = match ($change->kind) {
                ChangeKind::Added => '+ '.self::shown($change->new),
                ChangeKind::Removed => '- '.self::shown($change->old),
                ChangeKind::Moved => '~ '.self::shown($change->new).' (moved)',
                ChangeKind::Changed => '- '.self::shown($change->old)."\n".'+ '.self::shown($change->new)
                    .($change->moved ? ' (moved)' : ''),
            };
        }
        foreach ($this->comparison->meta as $meta) {
            array_push($lines, $meta['name'].': - '.$meta['old'], $meta['name'].': + '.$meta['new']);
        }
        foreach (['removed' => '-', 'added' => '+'] as $side => $sign) {
            foreach ($this->links[$side] as $link) {
                $lines[] = 'link: '.$sign.' '.$link->text.' <'.$link->href.'>';
            }
            foreach ($this->pictures[$side] as $picture) {
                $lines[] = 'picture: '.$sign.' '.$picture->src;
            }
        }
        foreach ($this->links['retargeted'] as [$before, $after]) {
            $lines[] = 'link: '.$after->text.' <'.$before->href.'> -> <'.$after->href.'>';
        }
        foreach ($this->pictures['changed'] as [$before, $after]) {
            $lines[] = 'picture: '.$before->src.' -> '.$after->src.($before->src === $after->src ? ' (other bytes)' : '');
        }
        foreach ($this->hidden as $one) {
            $lines[] = 'hidden text, '.$one->kind->value.': '.$one->text;
        }
        if ($this->isCut) {
            $lines[] = \sprintf('Of a page with more than %d passages only those were compared.', Document::MOST_PASSAGES);
        }
        foreach ($this->rulesSetAside() as $pattern) {
            $lines[] = 'A rule took too long and was set aside: '.$pattern;
        }
        $passedOver = \count($this->passedOver) + $this->alsoPassedOver;
        if ($passedOver > 0) {
            $lines[] = \sprintf('Passed over by rules: %d', $passedOver);
        }

        return [] === $lines ? 'A reader would see no difference.' : implode("\n", $lines);
    }

    private static function shown(?Passage $passage): string
    {
        return $passage->text ?? '';
    }
}
