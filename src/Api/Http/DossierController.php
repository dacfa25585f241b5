<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\HttpKernel\Exception\HttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\HttpKernel\Exception\PreconditionFailedHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\CaptureFacts;
use Ypomna\App\Api\DeskActs;
use Ypomna\App\Api\DossierArchive;
use Ypomna\App\Api\DossierFile;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;

/** Dossiers, their people, and the captures that they hold. */
#[AsController]
#[Allow(Right::Read)]
final readonly class DossierController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const MOST_CAPTURES = 500;

    public function __construct(
        private DossierRepository $dossiers,
        private Favourites $favourites,
        private Dossiers $changes,
        private CaptureRepository $captures,
        private CaptureFacts $facts,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
        private ClockInterface $clock,
    ) {
    }

    /** In the order in which they were made. */
    #[Told('Lists dossiers in the order in which they were made.', body: 'Dossiers', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers', name: 'api_dossiers', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $most = Answers::limit($request);
        $found = $this->dossiers->all($viewer, Answers::after($request), $most + 1);

        return Answers::list(
            array_map(fn (Dossier $one): array => $this->told($viewer, $one), $found), $most,
            fn (): string => $this->urls->generate(
                'api_dossiers', ['after' => $found[$most - 1]->id(), 'limit' => $most], UrlGeneratorInterface::ABSOLUTE_URL,
            ),
        );
    }

    #[Told('Makes a dossier.', 201, 'Dossier', 'DossierRequest', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers', name: 'api_dossier_make', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function make(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $pinned = $this->pinWish($viewer, $fields);
        $wish = $this->wish($viewer, $fields, null);
        $dossier = $this->done(fn (): Dossier => $this->changes->make($actor, $wish));
        $template = null === $wish->template ? null : $this->dossiers->byCode($viewer, $wish->template);
        if (null !== $template) {
            $this->done(fn (): Dossier => $this->changes->copyBelow($actor, $viewer, $template, $dossier));
        }
        $this->pin($viewer, $dossier, $pinned);

        return Answers::json(
            $this->told($viewer, $dossier), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_dossier', ['code' => $dossier->code])],
        );
    }

    #[Told('Gives out a dossier with those in it and all that lies there.', body: 'DossierFile')]
    #[Needs(Scope::Export)]
    #[Route('/api/dossiers/{code}/file', name: 'api_dossier_file', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function file(Viewer $viewer, Dossier $dossier, DossierFile $files): Response
    {
        $response = Download::streamed($files->pieces($viewer, $dossier), 'application/json', $dossier->name.'.json');
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    #[Told('Gives out a dossier as a ZIP file, with the attachments of its items.', body: 'Bytes', answer: 'application/zip')]
    #[Needs(Scope::Export)]
    #[Route('/api/dossiers/{code}/file.zip', name: 'api_dossier_zip', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function zip(Viewer $viewer, Dossier $dossier, DossierArchive $archive): Response
    {
        $name = $dossier->name;
        try {
            $path = $archive->make($viewer, $dossier);
        } catch (CannotChange $e) {
            throw InvalidFields::at('', $e->trans($this->translator));
        }

        return (new BinaryFileResponse($path, Response::HTTP_OK, [
            'Content-Type' => 'application/zip', 'Cache-Control' => 'no-store', 'Content-Disposition' => Download::attachment($name.'.zip'),
        ], false))->deleteFileAfterSend();
    }

    #[Told('Tells of a dossier.', body: 'Dossier')]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}', name: 'api_dossier', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, Dossier $dossier): JsonResponse
    {
        return Answers::json($this->told($viewer, $dossier));
    }

    #[Told('Changes a dossier.', body: 'Dossier', takes: 'DossierChange', type: 'application/merge-patch+json', also: [409, 412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}', name: 'api_dossier_change', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function change(Actor $actor, Viewer $viewer, Dossier $dossier, Request $request): JsonResponse
    {
        // Whether it is pinned is each person's own; all else is its leads'.
        if (!$this->dossiers->may($viewer, $dossier, Part::Lead) && !self::onlyPins($request)) {
            throw new AccessDeniedHttpException();
        }
        Answers::mustMatch($request, $this->etag($viewer, $dossier));
        $fields = Fields::ofPatch($request);
        $pinned = $this->pinWish($viewer, $fields);
        $wish = $this->wish($viewer, $fields, $dossier);
        if (!$fields->hasOnly('pinned')) {
            $this->done(fn (): Dossier => $this->changes->change($actor, $dossier, $wish));
        }
        $this->pin($viewer, $dossier, $pinned);

        return Answers::json($this->told($viewer, $dossier));
    }

    #[Told('Deletes a dossier with all that lies in it; for 30 days it can be brought back.', 204, also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}', name: 'api_dossier_delete', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['DELETE'])]
    public function delete(Actor $actor, Viewer $viewer, Dossier $dossier, Request $request): Response
    {
        $this->may($viewer, $dossier, Part::Lead);
        Answers::mustMatch($request, $this->etag($viewer, $dossier));
        $this->changes->delete($actor, $dossier);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Brings a dossier back.', body: 'Dossier', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/restore', name: 'api_dossier_restore', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function restore(Actor $actor, Viewer $viewer, string $code): JsonResponse
    {
        $dossier = $this->dossiers->deleted($viewer, $code, $this->clock->now()->modify(Dossiers::KEPT))
            ?? throw new NotFoundHttpException();
        $this->changes->restore($actor, $dossier);

        return Answers::json($this->told($viewer, $dossier));
    }

    /** Those that the viewer may see; the one that was laid there last first. */
    #[Told('Lists the captures that a dossier holds, as far as they are seen.', body: 'Captures')]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/captures', name: 'api_dossier_captures', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function captures(Viewer $viewer, Dossier $dossier): JsonResponse
    {
        $captures = array_map(
            fn (string $code): ?Capture => $this->captures->byCode($viewer, $code),
            $this->dossiers->captures($viewer, $dossier, self::MOST_CAPTURES),
        );
        $seen = array_values(array_filter($captures, static fn (?Capture $one): bool => null !== $one));

        return Answers::json(['items' => array_map(fn (Capture $one): array => $this->facts->of($viewer, $one), $seen), 'next' => null]);
    }

    #[Told('Lays a capture into a dossier.', 204, null, 'Laying', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/captures', name: 'api_dossier_lay', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function lay(Actor $actor, Viewer $viewer, Dossier $dossier, Request $request): Response
    {
        $this->may($viewer, $dossier, Part::Writer);
        $fields = Fields::of($request);
        $code = $fields->text('capture', 16, false);
        $capture = null === $code ? null : $this->captures->byCode($viewer, $code);
        if (null === $capture && !$fields->isWrong()) {
            $fields->wrong('capture', $this->translator->trans('desk.no_such_capture'));
        }
        $fields->done();
        if (null !== $capture) {
            $this->changes->lay($actor, $dossier, $capture->code);
        }

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Takes a capture out of a dossier.', 204)]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/captures/{capture}', name: 'api_dossier_take_out',
        requirements: ['code' => Codes::PATTERN, 'capture' => Codes::PATTERN], defaults: FetchMetadataGuard::OPEN, methods: ['DELETE'])]
    public function takeOut(Actor $actor, Viewer $viewer, Dossier $dossier, string $capture): Response
    {
        $this->may($viewer, $dossier, Part::Writer);
        if (!\in_array($capture, $this->dossiers->captures($viewer, $dossier, \PHP_INT_MAX), true)
            || null === $this->captures->byCode($viewer, $capture)) {
            throw new NotFoundHttpException();
        }
        $this->changes->takeOut($actor, $dossier, $capture);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Puts a dossier elsewhere, with all that is in it.', body: 'Dossier', takes: 'DossierMove', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/move', name: 'api_dossier_move', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function move(Actor $actor, Viewer $viewer, Dossier $dossier, Request $request): JsonResponse
    {
        $this->may($viewer, $dossier, Part::Lead);
        $fields = Fields::of($request);
        $parent = $this->parent($viewer, $fields);
        [$code, $isBefore] = DeskActs::beside($fields);
        $beside = null === $code ? null : $this->dossiers->byCode($viewer, $code);
        if (null !== $code && null === $beside) {
            $fields->wrong($isBefore ? 'before' : 'after', $this->translator->trans('desk.no_such_dossier'));
        }
        if (!$fields->has('parent') && null === $code && !$fields->isWrong()) {
            $fields->wrong('', 'Where to? One of these is wanted: parent, before, after.');
        }
        $fields->done();
        // Beside one that lies elsewhere it lies there, too.
        $where = $fields->has('parent') ? $parent : (null === $beside ? false : $beside->parent?->code);
        if (\is_string($where) && null === $parent && $where !== $dossier->parent?->code) {
            $above = $this->dossiers->byCode($viewer, $where);
            if (null === $above || !$this->dossiers->may($viewer, $above, Part::Writer)) {
                throw InvalidFields::at($isBefore ? '/before' : '/after', $this->translator->trans('desk.no_such_dossier'));
            }
        }
        $moved = $this->done(fn (): Dossier => $this->changes->move($actor, $dossier, $where, $beside, $isBefore),
            $isBefore ? '/before' : '/after');

        return Answers::json($this->told($viewer, $moved));
    }

    #[Told('Makes another dossier after this one.', 201, 'Dossier', 'DossierCopy', also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/dossiers/{code}/copy', name: 'api_dossier_copy', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function copy(Actor $actor, Viewer $viewer, Dossier $dossier, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $name = $fields->text('name', Dossier::LONGEST_NAME);
        $parent = $this->parent($viewer, $fields);
        $withItems = $fields->bool('items') ?? false;
        $fields->done();
        // Where nothing is said it lies beside this one, if that may be.
        $beside = $dossier->parent;
        $where = $fields->has('parent') ? $parent
            : (null !== $beside && $this->dossiers->may($viewer, $beside, Part::Writer) ? $beside->code : null);
        $copy = $this->done(fn (): Dossier => $this->changes->copy($actor, $viewer, $dossier, $name, $where, $withItems));

        return Answers::json(
            $this->told($viewer, $copy), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_dossier', ['code' => $copy->code])],
        );
    }

    /** The code of a dossier into which one may be laid. */
    private function parent(Viewer $viewer, Fields $fields): ?string
    {
        $parent = $fields->text('parent', 16);
        $above = null === $parent ? null : $this->dossiers->byCode($viewer, $parent);
        if (null !== $parent && (null === $above || !$this->dossiers->may($viewer, $above, Part::Writer))) {
            $fields->wrong('parent', $this->translator->trans('desk.no_such_dossier'));
        }

        return $parent;
    }

    /** @return list<FieldDefinition>|null null if nothing is said of them */
    private static function fields(Fields $fields): ?array
    {
        $list = $fields->list('fields', Dossier::MOST_FIELDS);
        $defined = [];
        foreach ($list ?? [] as $n => $inner) {
            $name = $inner->text('name', FieldDefinition::LONGEST_NAME, false);
            $type = $inner->one('type', FieldType::class);
            $choices = $inner->texts('choices', FieldDefinition::MOST_CHOICES, FieldDefinition::LONGEST_NAME) ?? [];
            if (null === $name || '' === trim($name) || isset($defined[$name])) {
                $inner->wrong('name', 'A name is wanted that no other field has.');
            }
            if (null === $type && !$inner->isWrong()) {
                $inner->wrong('type', 'One of these is wanted: '.implode(', ', array_column(FieldType::cases(), 'value')).'.');
            }
            if (FieldType::Choice === $type && [] === $choices && !$inner->isWrong()) {
                $inner->wrong('choices', 'A choice has something to choose from.');
            }
            $fields->take($inner);
            $defined[(string) $name] = new FieldDefinition((string) $name, $type ?? FieldType::Text, $choices);
        }

        return null === $list ? ($fields->has('fields') ? [] : null) : array_values($defined);
    }

    /** @throws InvalidFields */
    private function wish(Viewer $viewer, Fields $fields, ?Dossier $of): DossierChange
    {
        $isNew = null === $of;
        $name = $fields->text('name', Dossier::LONGEST_NAME, false);
        if ($isNew && null === $name && !$fields->isWrong()) {
            $fields->wrong('name', $this->translator->trans('desk.dossier_has_no_name'));
        }
        $parent = $this->parent($viewer, $fields);
        $template = $this->template($viewer, $fields, $of);
        $people = [];
        foreach ($fields->map('people') ?? [] as $who => $part) {
            $found = \is_string($part) ? Part::tryFrom($part) : null;
            if (null !== $part && null === $found) {
                $fields->wrong('people/'.Fields::escaped((string) $who), 'One of these is wanted: reader, writer, lead.');
            }
            $people[(string) $who] = $found;
        }
        $open = $fields->one('open', Opening::class);
        $wish = new DossierChange(
            $name, $fields->text('note', Dossier::LONGEST_NOTE), $isNew || $fields->has('parent') ? $parent : false,
            $isNew || $fields->has('open') ? $open : false, $people, self::fields($fields) ?? $template?->fields(), $template?->code,
        );
        $fields->done();

        return $wish;
    }

    /** After which one a new one is made; of one that is there it cannot be changed. */
    private function template(Viewer $viewer, Fields $fields, ?Dossier $of): ?Dossier
    {
        $code = $fields->text('template', 16);
        $template = null === $code ? null : $this->dossiers->byCode($viewer, $code);
        if (null !== $of ? $fields->has('template') && $code !== $this->seenTemplate($viewer, $of) : null !== $code && null === $template) {
            $fields->wrong('template', $this->translator->trans('desk.no_such_dossier'));
        }

        return null === $of ? $template : null;
    }

    private function seenTemplate(Viewer $viewer, Dossier $dossier): ?string
    {
        return null === $dossier->template ? null : $this->dossiers->byCode($viewer, $dossier->template)?->code;
    }

    /** @param \Closure(): Dossier $change */
    private function done(\Closure $change, string $beside = ''): Dossier
    {
        try {
            return $change();
        } catch (Circle) {
            throw new ConflictHttpException();
        } catch (SomebodyWasFaster) {
            throw new PreconditionFailedHttpException();
        } catch (CannotChange $e) {
            $at = match ($e->key) {
                'desk.dossier_has_no_name' => '/name',
                'desk.not_side_by_side' => $beside,
                'desk.no_such_person' => '/people/'.Fields::escaped((string) ($e->values['name'] ?? '')),
                default => '/people',
            };
            throw InvalidFields::at($at, $e->trans($this->translator));
        }
    }

    private function may(Viewer $viewer, Dossier $dossier, Part $part): void
    {
        if (!$this->dossiers->may($viewer, $dossier, $part)) {
            throw new AccessDeniedHttpException();
        }
    }

    /** @return array<string, mixed> */
    private function told(Viewer $viewer, Dossier $dossier): array
    {
        $parent = null === $dossier->parent ? null : $this->dossiers->byCode($viewer, $dossier->parent->code);

        return [
            'code' => $dossier->code, 'name' => $dossier->name, 'parent' => $parent?->code, 'note' => $dossier->note,
            'template' => $this->seenTemplate($viewer, $dossier),
            'fields' => array_map(static fn (FieldDefinition $field): array => $field->data(), $dossier->fields()),
            'pinned' => $this->isPinned($viewer, $dossier), 'open' => $dossier->opening()->value,
            'people' => (object) array_map(static fn (Part $part): string => $part->value, $this->dossiers->own($dossier)),
            'etag' => $this->etag($viewer, $dossier),
        ];
    }

    private static function onlyPins(Request $request): bool
    {
        try {
            return Fields::ofPatch($request)->hasOnly('pinned');
        } catch (HttpException) {
            return false;
        }
    }

    private function pinWish(Viewer $viewer, Fields $fields): ?bool
    {
        $pinned = $fields->bool('pinned');
        if (true === $pinned && $this->favourites->isFull($viewer)) {
            $fields->wrong('pinned', $this->translator->trans('desk.too_many_favourites', ['n' => Favourites::MOST]));
        }

        return $pinned;
    }

    private function pin(Viewer $viewer, Dossier $dossier, ?bool $pinned): void
    {
        if (null !== $pinned && $pinned !== $this->isPinned($viewer, $dossier)) {
            $this->favourites->add($viewer, FavouriteKind::Dossier, $dossier->code, $pinned);
        }
    }

    private function isPinned(Viewer $viewer, Dossier $dossier): bool
    {
        return true === $this->favourites->pinned($viewer, FavouriteKind::Dossier, $dossier->code);
    }

    /** What is told of a dossier differs by who is told, so this does, too. */
    private function etag(Viewer $viewer, Dossier $dossier): string
    {
        return $dossier->etag().($this->isPinned($viewer, $dossier) ? '-pinned' : '');
    }
}
