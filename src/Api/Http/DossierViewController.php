<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Chronology;
use Ypomna\App\Desk\CollectedFields;
use Ypomna\App\Desk\DossierViews;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\CollectedField;
use Ypomna\App\Desk\Value\DatedItem;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\FieldRow;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\Look;
use Ypomna\App\Desk\Value\SavedView;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Ways to look at a dossier, and what its items say together. */
#[AsController]
#[Allow(Right::Read)]
final readonly class DossierViewController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const VIEW = ['code' => Codes::PATTERN, 'other' => Codes::PATTERN];

    public function __construct(
        private DossierViews $views,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Lists the ways to look at a dossier that are saved: one\'s own, and those for all.', body: 'DossierViews')]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/views', name: 'api_dossier_views', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function all(Viewer $viewer, Dossier $dossier): JsonResponse
    {
        return Answers::json(['items' => array_map(self::told(...), $this->views->of($viewer, $dossier)), 'next' => null]);
    }

    #[Told('Saves a way to look at a dossier under a name.', 201, 'DossierView', 'DossierViewRequest')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/views', name: 'api_dossier_view_save', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function save(Viewer $viewer, Dossier $dossier, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $name = $fields->text('name', DossierViews::LONGEST_NAME) ?? '';
        $forAll = $fields->bool('forAll') ?? false;
        $inner = $fields->inner('view');
        $view = null === $inner ? new DossierView() : self::view($inner);
        $fields->take($inner);
        $fields->done();
        try {
            $code = $this->views->save($viewer, $dossier, $name, $view, $forAll);
        } catch (CannotChange $e) {
            throw InvalidFields::at('/name', $e->trans($this->translator));
        }

        return Answers::json(
            self::told($this->views->byCode($viewer, $dossier, $code) ?? throw new NotFoundHttpException()), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_dossier_view', ['code' => $dossier->code, 'other' => $code])],
        );
    }

    #[Told('Tells of a saved way to look at a dossier.', body: 'DossierView')]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/views/{other}', name: 'api_dossier_view', requirements: self::VIEW, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function one(Viewer $viewer, Dossier $dossier, string $other): JsonResponse
    {
        return Answers::json(self::told($this->views->byCode($viewer, $dossier, $other) ?? throw new NotFoundHttpException()));
    }

    #[Told('Forgets a saved way to look at a dossier.', 204)]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/views/{other}', name: 'api_dossier_view_forget', requirements: self::VIEW,
        defaults: FetchMetadataGuard::OPEN, methods: ['DELETE'])]
    public function forget(Viewer $viewer, Dossier $dossier, string $other): Response
    {
        $saved = $this->views->byCode($viewer, $dossier, $other) ?? throw new NotFoundHttpException();
        if (!$this->views->mayForget($viewer, $dossier, $saved)) {
            throw new AccessDeniedHttpException();
        }
        $this->views->forget($dossier, $saved);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Tells what the fields of a dossier\'s items say together.', body: 'CollectedFields')]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/fields', name: 'api_dossier_fields', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function fields(Viewer $viewer, Dossier $dossier, CollectedFields $collected): JsonResponse
    {
        [$fields, $isMore] = $collected->of($viewer, $dossier);

        return Answers::json(['fields' => array_map(self::collected(...), $fields), 'complete' => !$isMore]);
    }

    #[Told('Tells what happened when, as the items of a dossier and of those below it say.', body: 'Chronology', query: [
        'field' => 'The date field that is meant; the first one if none is named.',
        'kind' => 'capture, address, note, excerpt, file or recording.', 'tag' => 'The name of a tag that they have.',
    ])]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/chronology', name: 'api_chronology', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function chronology(Viewer $viewer, Dossier $dossier, Request $request, Chronology $chronology): JsonResponse
    {
        [$field, $names, $entries] = $chronology->of($viewer, $dossier, DossierView::of($request->query->all()));

        return Answers::json(['field' => $field, 'fields' => $names, 'entries' => array_map(static fn (DatedItem $one): array => [
            'item' => $one->item->code, 'title' => $one->name(), 'date' => $one->date->text, 'first' => $one->firstDay(),
            'last' => $one->lastDay(), 'approximate' => $one->date->isApproximate, 'uncertain' => $one->date->isUncertain,
            'capture' => $one->capture?->code, 'url' => $one->capture?->url, 'capturedAt' => Answers::moment($one->capture?->capturedAt),
        ], $entries)]);
    }

    private static function view(Fields $fields): DossierView
    {
        $columns = $fields->texts('columns', DossierView::MOST_COLUMNS, DossierView::LONGEST + 2);
        foreach ($columns ?? [] as $n => $one) {
            if (!\in_array($one, DossierView::COLUMNS, true) && !str_starts_with($one, 'f.')) {
                $fields->wrong('columns/'.$n, 'One of these is wanted, or f. and the name of a field: '
                    .implode(', ', DossierView::COLUMNS).'.');
            }
        }

        return new DossierView(
            $fields->one('look', Look::class) ?? Look::Register, $fields->one('order', ItemOrder::class) ?? ItemOrder::Hand,
            array_values(array_unique($columns ?? DossierView::USUAL)), $fields->one('kind', ItemKind::class),
            $fields->text('tag', DossierView::LONGEST), $fields->bool('important') ?? false, $fields->day('dueBefore'),
            trim($fields->text('words', DossierView::LONGEST) ?? ''), $fields->text('field', DossierView::LONGEST),
        );
    }

    /** @return array<string, mixed> */
    private static function told(SavedView $saved): array
    {
        $view = $saved->view;

        return [
            'code' => $saved->code, 'name' => $saved->name, 'person' => $saved->person, 'forAll' => $saved->forAll, 'view' => [
                'look' => $view->look->value, 'order' => $view->order->value, 'columns' => $view->columns, 'kind' => $view->kind?->value,
                'tag' => $view->tag, 'important' => $view->important, 'dueBefore' => $view->dueBefore?->format('Y-m-d'),
                'words' => $view->words, 'field' => $view->field,
            ],
        ];
    }

    /** @return array<string, mixed> */
    private static function collected(CollectedField $one): array
    {
        return [
            'name' => $one->name, 'type' => $one->type->value, 'more' => $one->more,
            'values' => array_map(static fn (array $value): array => [
                'value' => $value['value'], 'items' => array_map(static fn (FieldRow $row): string => $row->code, $value['items']),
            ], $one->values),
            'numbers' => array_map(get_object_vars(...), $one->numbers),
            'places' => array_map(static fn (array $place): array => ['item' => $place['item']->code] + $place, $one->places),
        ];
    }
}
