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
use Ypomna\App\Desk\ArchivalDescription;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\FindingAids;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\AidEntry;
use Ypomna\App\Desk\Value\FindingAid;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Finding aids: lists of contents with descriptions. */
#[AsController]
#[Allow(Right::Read)]
final readonly class FindingAidController
{
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private FindingAids $aids,
        private DossierRepository $dossiers,
        private ItemRepository $items,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Lists the finding aids that one made, or those of a dossier, without their entries.', body: 'FindingAids', query: [
        'dossier' => 'The code of the dossier of which they are.',
    ])]
    #[Needs(Scope::Read)]
    #[Route('/api/aids', name: 'api_aids', defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function all(Viewer $viewer, Request $request): JsonResponse
    {
        $code = $request->query->all()['dossier'] ?? null;
        $dossier = \is_string($code) ? $this->dossiers->byCode($viewer, $code) : null;
        $aids = null === $code ? $this->aids->madeBy($viewer) : (null === $dossier ? [] : $this->aids->ofDossier($viewer, $dossier));

        return Answers::json(['items' => array_map(self::told(...), $aids), 'next' => null]);
    }

    #[Told('Makes a finding aid of a dossier, or of chosen items: living, or fixed with a checksum.', 201, 'FindingAid',
        'FindingAidRequest')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/aids', name: 'api_aid_make', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function make(Actor $actor, Viewer $viewer, Request $request): JsonResponse
    {
        $fields = Fields::of($request);
        $title = $fields->text('title', FindingAids::LONGEST_TITLE, false);
        if (!$fields->isWrong() && '' === trim((string) $title)) {
            $fields->wrong('title', $this->translator->trans('desk.aid_has_no_title'));
        }
        $note = $fields->text('note', FindingAids::LONGEST_NOTE) ?? '';
        $isFixed = $fields->bool('fixed') ?? false;
        $of = $this->wanted($viewer, $fields);
        $fields->done();
        try {
            $code = $this->aids->make($actor, $viewer, $of, (string) $title, $note, $isFixed);
        } catch (CannotChange $e) {
            throw InvalidFields::at('/title', $e->trans($this->translator));
        }

        return Answers::json(
            self::told($this->aid($viewer, $code)), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_aid', ['code' => $code])],
        );
    }

    #[Told('Tells of a finding aid, with what stands in it as far as that is seen.', body: 'FindingAidRead')]
    #[Needs(Scope::Read)]
    #[Route('/api/aids/{code}', name: 'api_aid', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN, methods: ['GET'])]
    public function one(Viewer $viewer, string $code): JsonResponse
    {
        $aid = $this->aid($viewer, $code);
        [$entries, $hidden] = $this->aids->entries($viewer, $aid);

        return Answers::json(self::told($aid) + [
            'hidden' => $hidden, 'entries' => array_map(
                static fn (AidEntry $one): array => ['fields' => (object) $one->fields] + get_object_vars($one), $entries,
            ),
        ]);
    }

    #[Told('Gives out a finding aid as an archival description (EAD3).', body: 'Xml', answer: 'application/xml; charset=utf-8')]
    #[Needs(Scope::Export)]
    #[Route('/api/aids/{code}/ead.xml', name: 'api_aid_ead', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function ead(Viewer $viewer, string $code, ArchivalDescription $description): Response
    {
        $aid = $this->aid($viewer, $code);

        return new Response($description->of($aid, $this->aids->entries($viewer, $aid)[0]), Response::HTTP_OK, [
            'Content-Type' => 'application/xml; charset=utf-8', 'Cache-Control' => 'no-store',
        ]);
    }

    #[Told('Deletes a finding aid; what it lists stays.', 204)]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/aids/{code}', name: 'api_aid_delete', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['DELETE'])]
    public function delete(Viewer $viewer, string $code): Response
    {
        $aid = $this->aid($viewer, $code);
        if (!$this->aids->mayDelete($viewer, $aid)) {
            throw new AccessDeniedHttpException();
        }
        $this->aids->delete($aid);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    /** @return Dossier|list<Item> */
    private function wanted(Viewer $viewer, Fields $fields): Dossier|array
    {
        $code = $fields->text('dossier', 20);
        $codes = $fields->texts('items', Items::MOST_AT_ONCE, 20);
        if ((null === $code) === (null === $codes) && !$fields->isWrong()) {
            $fields->wrong('', 'Of what? One of these is wanted: dossier, items.');
        }
        if (null !== $code) {
            $dossier = $this->dossiers->byCode($viewer, $code);
            if (null === $dossier) {
                $fields->wrong('dossier', $this->translator->trans('desk.no_such_dossier'));
            }

            return $dossier ?? [];
        }
        $codes = array_values(array_unique($codes ?? []));
        $items = $this->items->byCodes($viewer, $codes);
        foreach (array_keys(array_diff($codes, array_map(static fn (Item $item): string => $item->code, $items))) as $n) {
            $fields->wrong('items/'.$n, 'There is no such item.');
        }
        if ([] === $codes && $fields->has('items') && !$fields->isWrong()) {
            $fields->wrong('items', 'The codes of items are wanted.');
        }

        return $items;
    }

    private function aid(Viewer $viewer, string $code): FindingAid
    {
        return $this->aids->byCode($viewer, $code) ?? throw new NotFoundHttpException();
    }

    /** @return array<string, mixed> */
    private static function told(FindingAid $aid): array
    {
        return [
            'code' => $aid->code, 'title' => $aid->title, 'note' => $aid->note, 'dossier' => $aid->dossier?->code, 'items' => $aid->items,
            'fixed' => !$aid->isLiving(), 'sha256' => $aid->sha256, 'person' => $aid->person, 'madeAt' => Answers::moment($aid->madeAt),
        ];
    }
}
