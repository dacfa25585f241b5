<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Psr\Clock\ClockInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\InputBag;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatableInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Chronology;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\DossierViews;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\FindingAids;
use Ypomna\App\Desk\ItemFields;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Value\DatedItem;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\Look;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Desk\Value\SavedView;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;

/** Dossiers, what lies in them, and who belongs to them. */
#[Allow(Right::Read)]
final class DossierController extends AbstractController
{
    private const LISTED = 100;

    public function __construct(
        private readonly DossierRepository $dossiers,
        private readonly Dossiers $changes,
        private readonly ItemRepository $items,
        private readonly CaptureRepository $captures,
        private readonly Favourites $favourites,
        private readonly DossierViews $views,
        private readonly FindingAids $aids,
        private readonly ItemFields $fields,
        private readonly ClockInterface $clock,
    ) {
    }

    #[Route('/dossiers', name: 'dossiers', methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): Response
    {
        return $this->list($viewer, $request);
    }

    #[Allow(Right::Keep)]
    #[Route('/dossiers', name: 'dossier_make', methods: ['POST'])]
    #[IsCsrfTokenValid('dossier')]
    public function make(Actor $actor, Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $parent = $form->getString('parent');
        if ('' !== $parent) {
            $this->in($viewer, $parent, Part::Writer);
        }
        try {
            $dossier = $this->changes->make($actor, new DossierChange(
                mb_substr($form->getString('name'), 0, Dossier::LONGEST_NAME), parent: '' === $parent ? null : $parent,
                open: Opening::tryFrom($form->getString('open')) ?? false,
            ));
        } catch (CannotChange|Circle $e) {
            return $this->list($viewer, $request, $e);
        }

        return $this->redirectToRoute('dossier', ['code' => $dossier->code], Response::HTTP_SEE_OTHER);
    }

    #[Route('/dossiers/{code}', name: 'dossier', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function one(Viewer $viewer, string $code, Request $request): Response
    {
        $dossier = $this->in($viewer, $code, Part::Reader);
        $query = $request->query;
        $number = $query->getInt('n');
        $saved = $this->views->byCode($viewer, $dossier, $query->getString('view'));
        $view = $saved->view ?? DossierView::of($query->all());
        if (Look::Chronology === $view->look) {
            return $this->redirectToRoute('chronology', ['code' => $code] + array_diff_key($view->query(), ['look' => 1])
                + (null === $saved ? [] : ['view' => $saved->code]));
        }

        return $this->shown($viewer, $dossier, null, $view, $saved, $number > 0 ? [$query->getString('after'), $number] : null);
    }

    #[Route('/dossiers/{code}/chronology', name: 'chronology', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function chronology(Viewer $viewer, string $code, Request $request, Chronology $chronology): Response
    {
        $dossier = $this->in($viewer, $code, Part::Reader);
        $view = DossierView::of($request->query->all());
        $view = new DossierView(
            Look::Chronology, $view->order, $view->columns, $view->kind, $view->tag, $view->important, $view->dueBefore, $view->words,
            $view->field,
        );
        [$field, $names, $entries] = $chronology->of($viewer, $dossier, $view);

        return $this->render('desk/chronology.html.twig', [
            'dossier' => $dossier, 'field' => $field, 'names' => $names, 'entries' => $entries,
            'drawn' => array_map(static fn (DatedItem $one): array => $one->drawn(), $entries),
        ] + $this->ways($viewer, $dossier, $view, $this->views->byCode($viewer, $dossier, $request->query->getString('view'))));
    }

    #[Allow(Right::Keep)]
    #[Route('/dossiers/{code}', name: 'dossier_act', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('dossier')]
    public function act(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $form = $request->request;
        $act = $form->getString('act');
        $dossier = $this->in($viewer, $code, match ($act) {
            'lay', 'take-out' => Part::Writer, 'copy' => Part::Reader, default => Part::Lead,
        });
        try {
            switch ($act) {
                case 'lay':
                    $this->lay($actor, $viewer, $dossier, $form->getString('capture'));
                    break;
                case 'take-out':
                    $this->changes->takeOut($actor, $dossier, $form->getString('capture'));
                    break;
                case 'save':
                    $this->changes->change($actor, $dossier, new DossierChange(
                        mb_substr($form->getString('name'), 0, Dossier::LONGEST_NAME),
                        mb_strcut($form->getString('note'), 0, Dossier::LONGEST_NOTE),
                        open: '' === $form->getString('open') ? null : (Opening::tryFrom($form->getString('open')) ?? false),
                    ));
                    break;
                case 'part':
                    $this->changes->change(
                        $actor, $dossier,
                        new DossierChange(people: [$form->getString('person') => Part::tryFrom($form->getString('part'))]),
                    );
                    break;
                case 'fields':
                    $this->changes->change($actor, $dossier, new DossierChange(fields: $this->fields($form)));
                    break;
                case 'move':
                    $this->move($actor, $viewer, $dossier, $form->getString('parent'));
                    break;
                case 'before': case 'after':
                    $beside = $this->in($viewer, $form->getString('beside'), Part::Reader);
                    $this->changes->move($actor, $dossier, false, $beside, 'before' === $act);

                    return $this->redirectToRoute('dossier', ['code' => $dossier->parent->code ?? $code], Response::HTTP_SEE_OTHER);
                case 'copy':
                    $above = $dossier->parent;
                    $name = mb_substr(trim($form->getString('name')), 0, Dossier::LONGEST_NAME);
                    $copy = $this->changes->copy(
                        $actor, $viewer, $dossier, '' === $name ? null : $name,
                        null !== $above && $this->dossiers->may($viewer, $above, Part::Writer) ? $above->code : null,
                        '1' === $form->getString('items'),
                    );

                    return $this->redirectToRoute('dossier', ['code' => $copy->code], Response::HTTP_SEE_OTHER);
                case 'delete':
                    if ('1' !== $form->getString('sure')) {
                        return $this->render('desk/delete.html.twig', ['dossier' => $dossier]);
                    }
                    $this->changes->delete($actor, $dossier);

                    return $this->render('desk/deleted.html.twig', ['dossier' => $dossier]);
                default:
                    throw $this->createNotFoundException('There is no such thing to do with a dossier.');
            }
        } catch (CannotChange|Circle|SomebodyWasFaster $e) {
            return $this->shown($viewer, $dossier, $e);
        }

        return $this->redirectToRoute('dossier', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    #[Allow(Right::Keep)]
    #[Route('/dossiers/{code}/restore', name: 'dossier_restore', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('dossier')]
    public function restore(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $dossier = $this->dossiers->deleted($viewer, $code, $this->clock->now()->modify(Dossiers::KEPT))
            ?? throw $this->createNotFoundException('There is no such dossier.');
        $this->changes->restore($actor, $dossier);

        return $this->redirectToRoute('dossier', ['code' => $code], Response::HTTP_SEE_OTHER);
    }

    /** @throws CannotChange|Circle|SomebodyWasFaster */
    private function move(Actor $actor, Viewer $viewer, Dossier $dossier, string $parent): void
    {
        if ('' !== $parent) {
            $this->in($viewer, $parent, Part::Writer);
        }
        if ($parent !== ($dossier->parent->code ?? '')) {
            $this->changes->move($actor, $dossier, '' === $parent ? null : $parent, null, false);
        }
    }

    /**
     * @param InputBag<string> $form
     *
     * @return list<FieldDefinition>
     *
     * @throws CannotChange
     */
    private function fields(InputBag $form): array
    {
        $types = $form->all('types');
        $choices = $form->all('choices');
        $fields = [];
        foreach (\array_slice($form->all('names'), 0, Dossier::MOST_FIELDS, true) as $n => $name) {
            $name = \is_string($name) ? mb_substr(trim($name), 0, FieldDefinition::LONGEST_NAME) : '';
            if ('' === $name) {
                continue;
            }
            $type = FieldType::tryFrom(\is_string($types[$n] ?? null) ? $types[$n] : '') ?? FieldType::Text;
            $some = FieldType::Choice === $type && \is_string($choices[$n] ?? null)
                ? array_values(array_filter(array_map(trim(...), explode(',', $choices[$n])),
                    static fn (string $one): bool => '' !== $one)) : [];
            if (isset($fields[$name])) {
                throw new CannotChange('desk.field_twice', ['name' => $name]);
            }
            if (FieldType::Choice === $type && [] === $some) {
                throw new CannotChange('desk.nothing_to_choose', ['name' => $name]);
            }
            $fields[$name] = new FieldDefinition($name, $type, \array_slice($some, 0, FieldDefinition::MOST_CHOICES));
        }

        return array_values($fields);
    }

    /** @throws CannotChange */
    private function lay(Actor $actor, Viewer $viewer, Dossier $dossier, string $typed): void
    {
        $code = 1 === preg_match('~(?:^|/c/)('.Codes::PATTERN.')(?:[/?#]|$)~', trim($typed), $m) ? $m[1] : '';
        $capture = $this->captures->byCode($viewer, $code) ?? throw new CannotChange('desk.no_such_capture');
        $this->changes->lay($actor, $dossier, $capture->code);
    }

    private function list(Viewer $viewer, Request $request, ?TranslatableInterface $why = null): Response
    {
        $dossiers = $this->dossiers->all($viewer, max(0, $request->query->getInt('after')));

        return $this->render('desk/dossiers.html.twig', [
            'dossiers' => $dossiers,
            'pinned' => $this->favourites->pinnedDossiers($viewer, array_map(static fn (Dossier $one): string => $one->code, $dossiers)),
            'parents' => $this->dossiers->parents($viewer, $dossiers), 'why' => $why,
            'typed' => $request->request->getString('name'),
            'more' => DossierRepository::PAGE === \count($dossiers) ? end($dossiers)->id() : null,
        ], new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    /** @param array{string, int}|null $after */
    private function shown(
        Viewer $viewer,
        Dossier $dossier,
        ?TranslatableInterface $why = null,
        DossierView $view = new DossierView(),
        ?SavedView $saved = null,
        ?array $after = null,
    ): Response {
        $query = $view->items($dossier->code, null, $after, self::LISTED + 1);
        $found = $this->items->list($viewer, $query);
        $last = \count($found) > self::LISTED ? $this->items->cursor($viewer, $query, $found[self::LISTED - 1]) : null;

        return $this->render('desk/dossier.html.twig', [
            'dossier' => $dossier, 'path' => $this->dossiers->path($viewer, $dossier), 'below' => $this->dossiers->in($viewer, $dossier),
            'people' => $this->dossiers->own($dossier), 'aids' => $this->aids->ofDossier($viewer, $dossier),
            'items' => $this->items->shown($viewer, \array_slice($found, 0, self::LISTED)),
            'branching' => Look::Outline === $view->look ? $this->items->branching($viewer, $found) : [],
            'more' => null === $last ? null : ['after' => $last[0], 'n' => $last[1]],
            'types' => array_map(static fn (FieldType $one): string => $one->value, FieldType::cases()),
            'parts' => array_map(static fn (Part $part): string => $part->value, Part::cases()),
            'openings' => array_map(static fn (Opening $one): string => $one->value, Opening::cases()), 'why' => $why,
        ] + $this->ways($viewer, $dossier, $view, $saved),
            new Response('', null === $why ? Response::HTTP_OK : Response::HTTP_UNPROCESSABLE_ENTITY));
    }

    /** @return array<string, mixed> what is needed to choose another way to look at it */
    private function ways(Viewer $viewer, Dossier $dossier, DossierView $view, ?SavedView $saved): array
    {
        return [
            'view' => $view, 'query' => $view->query(), 'saved' => $saved, 'views' => $this->views->of($viewer, $dossier),
            'mayForget' => null !== $saved && $this->views->mayForget($viewer, $dossier, $saved),
            'looks' => array_map(static fn (Look $one): string => $one->value, Look::cases()),
            'orders' => array_map(static fn (ItemOrder $one): string => $one->value, ItemOrder::cases()),
            'kinds' => array_map(static fn (ItemKind $one): string => $one->value, ItemKind::cases()),
            'offered' => [...DossierView::COLUMNS, ...array_map(
                static fn (int|string $name): string => 'f.'.$name, array_keys($this->fields->ofDossiers([$dossier])),
            )],
        ];
    }

    /** A dossier that somebody sees and in which they may do that. */
    private function in(Viewer $viewer, string $code, Part $part): Dossier
    {
        $dossier = $this->dossiers->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such dossier.');
        if (!$this->dossiers->may($viewer, $dossier, $part)) {
            throw $this->createAccessDeniedException();
        }

        return $dossier;
    }
}
