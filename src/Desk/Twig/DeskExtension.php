<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Twig;

use Symfony\Contracts\Service\ResetInterface;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;
use Twig\TwigFunction;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\Intake;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\NoteText;
use Ypomna\App\Desk\Opened;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Desk\Value\ShownField;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\MapBox;
use Ypomna\Core\Desk\MarkdownText;

/** Lets every screen offer dossiers, and say in which of them a capture lies. */
final class DeskExtension extends AbstractExtension implements ResetInterface
{
    /** @var list<Dossier>|null those that were asked for already: several forms of a screen offer them */
    private ?array $writable = null;
    private ?int $waiting = null;

    public function __construct(
        private readonly DossierRepository $dossiers,
        private readonly Favourites $favourites,
        private readonly ItemRepository $items,
        private readonly Intake $intake,
        private readonly NoteText $notes,
        private readonly Opened $opened,
        private readonly AlwaysTags $always,
        private readonly CurrentPerson $person,
    ) {
    }

    public function reset(): void
    {
        $this->writable = $this->waiting = null;
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('note', $this->notes->html(...), ['is_safe' => ['html']]),
            new TwigFilter('markdown', static fn (?string $text): string => MarkdownText::escaped((string) $text)),
        ];
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction('opened', fn (int $most): array => $this->opened->of($this->person->viewer(), $most)),
            new TwigFunction('always_tags', fn (): array => $this->always->of($this->person->viewer()->name)),
            new TwigFunction('field_text', static function (Item $item, string $column): string {
                $value = $item->fields[substr($column, 2)] ?? null;

                return (new ShownField(substr($column, 2), FieldType::of($value), [], $value))->text();
            }),
            new TwigFunction('box_of', MapBox::around(...)),
            new TwigFunction('clock_of',
                static fn (float $seconds): string => \sprintf('%d:%02d', intdiv((int) $seconds, 60), (int) $seconds % 60)),
            new TwigFunction('waiting_items', fn (): int => $this->waiting ??= $this->items->waiting($this->person->viewer())),
            new TwigFunction('items_of', fn (string $capture): array => $this->items->ofCapture($this->person->viewer(), $capture)),
            new TwigFunction('intake_items', fn (int $most): array => $this->items->shown(
                $this->person->viewer(), $this->intake->waiting($this->person->viewer(), 0, $most),
            )),
            new TwigFunction(
                'writable_dossiers', fn (): array => $this->writable ??= $this->dossiers->writable($this->person->viewer()),
            ),
            new TwigFunction('dossiers_of', fn (string $capture): array => $this->dossiers->holding($this->person->viewer(), $capture)),
            new TwigFunction('favourite', fn (string $kind, string $code): ?bool => $this->favourites->pinned(
                $this->person->viewer(), FavouriteKind::from($kind), $code,
            )),
            new TwigFunction('favourites', fn (int $most): array => $this->favourites->of($this->person->viewer(), $most)),
            new TwigFunction('may_in', fn (Dossier $dossier, string $part): bool => $this->dossiers->may(
                $this->person->viewer(), $dossier, Part::from($part),
            )),
        ];
    }
}
