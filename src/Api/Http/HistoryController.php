<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Answers;
use Ypomna\App\Api\DeskActs;
use Ypomna\App\Api\Fields;
use Ypomna\App\Api\ItemFacts;
use Ypomna\App\Api\Needs;
use Ypomna\App\Api\Told;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Journal;
use Ypomna\App\Desk\Notes;
use Ypomna\App\Desk\NoteWriting;
use Ypomna\App\Desk\Value\Act;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\NoteVersion;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Who did what, how notes read before, and notes that two people write at the same time. */
#[AsController]
#[Allow(Right::Read)]
final readonly class HistoryController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const VERSION = self::CODE + ['number' => '\d{1,18}'];

    public function __construct(
        private Journal $journal,
        private Notes $notes,
        private ItemRepository $items,
        private ItemFacts $facts,
        private UrlGeneratorInterface $urls,
    ) {
    }

    #[Told('Lists who did what with an item, the last act first.', body: 'Acts', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/acts', name: 'api_item_acts', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function ofItem(Viewer $viewer, Item $item, Request $request): JsonResponse
    {
        return $this->told('api_item_acts', $item->code, $request, $this->journal->ofItem(
            $viewer, $item, Answers::after($request), Answers::limit($request),
        ));
    }

    #[Told('Lists who did what with a dossier and with what lies in it, the last act first.', body: 'Acts', query: Told::LIST)]
    #[Needs(Scope::Read)]
    #[Route('/api/dossiers/{code}/acts', name: 'api_dossier_acts', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function ofDossier(Viewer $viewer, Dossier $dossier, Request $request): JsonResponse
    {
        return $this->told('api_dossier_acts', $dossier->code, $request, $this->journal->ofDossier(
            $viewer, $dossier, Answers::after($request), Answers::limit($request),
        ));
    }

    #[Told('Lists how a note read before, the last version first, without the texts.', body: 'NoteVersions')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/versions', name: 'api_note_versions', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function versions(Item $item): JsonResponse
    {
        return Answers::json(['items' => array_map(self::version(...), $this->notes->versions($item)), 'next' => null]);
    }

    #[Told('Tells how a note read in one version.', body: 'NoteVersion')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/versions/{number}', name: 'api_note_version', requirements: self::VERSION,
        defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Item $item, int $number): JsonResponse
    {
        return Answers::json(self::version($this->notes->one($item, $number) ?? throw new NotFoundHttpException()));
    }

    #[Told('Has a note read again as it did in a version.', body: 'Item', also: [409, 412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/versions/{number}/restore', name: 'api_note_back', requirements: self::VERSION,
        defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function back(Actor $actor, Viewer $viewer, Item $item, int $number, Request $request, Items $changes): JsonResponse
    {
        $this->may($viewer, $item);
        Answers::mustMatch($request, $item->etag());
        $version = $this->notes->one($item, $number) ?? throw new NotFoundHttpException();
        DeskActs::done(static fn (): array => $changes->change($actor, $viewer, [$item], new ItemChange(note: (string) $version->note)));

        return Answers::json($this->facts->of($viewer, $item));
    }

    /** Where both changed the same lines nothing is saved: both texts are told. */
    #[Told('Saves a note that somebody else may have changed since `base` was read: what both did is put together.', body: 'NoteSaved',
        takes: 'NoteSave', also: [409, 412])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/note', name: 'api_note_save', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function save(Actor $actor, Viewer $viewer, Item $item, Request $request, NoteWriting $writing): JsonResponse
    {
        $this->may($viewer, $item);
        $fields = Fields::of($request);
        $base = $fields->text('base', Item::LONGEST_NOTE) ?? '';
        $note = $fields->text('note', Item::LONGEST_NOTE, false);
        if (null === $note && !$fields->isWrong()) {
            $fields->wrong('note', 'The text of the note is wanted.');
        }
        $fields->done();
        [$merged] = DeskActs::done(static fn (): array => $writing->save($actor, $viewer, $item, $base, (string) $note));

        return Answers::json([
            'saved' => $merged->isDecided(), 'note' => $merged->mine(), 'theirs' => $merged->isDecided() ? null : $merged->theirs(),
        ]);
    }

    /** @param array{list<Act>, int|null} $found */
    private function told(string $route, string $code, Request $request, array $found): JsonResponse
    {
        [$acts, $next] = $found;

        return Answers::json(['items' => array_map(static fn (Act $act): array => [
            'kind' => $act->kind->value, 'person' => $act->person, 'at' => Answers::moment($act->at), 'item' => $act->item?->code,
            'dossier' => $act->dossier?->code, 'from' => $act->values['from'] ?? '', 'to' => $act->values['to'] ?? '',
            'what' => $act->values['what'] ?? '',
        ], $acts), 'next' => null === $next ? null : $this->urls->generate(
            $route, ['code' => $code, 'after' => $next, 'limit' => Answers::limit($request)], UrlGeneratorInterface::ABSOLUTE_URL,
        )]);
    }

    /** @return array<string, mixed> */
    private static function version(NoteVersion $one): array
    {
        return [
            'number' => $one->id, 'person' => $one->person, 'at' => Answers::moment($one->at), 'length' => $one->length,
            'note' => $one->note,
        ];
    }

    private function may(Viewer $viewer, Item $item): void
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw new AccessDeniedHttpException();
        }
    }
}
