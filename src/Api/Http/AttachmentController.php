<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\HttpKernel\Exception\UnsupportedMediaTypeHttpException;
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
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\SpokenNotes;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Replay\FetchMetadataGuard;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;

/** Files that belong to items, and recordings that come piece by piece. */
#[AsController]
#[Allow(Right::Read)]
final readonly class AttachmentController
{
    private const CODE = ['code' => Codes::PATTERN];
    private const PIECE = 'application/offset+octet-stream';

    public function __construct(
        private ItemRepository $items,
        private Attachments $attachments,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
    ) {
    }

    #[Told('Lists the files that belong to an item.', body: 'Attachments')]
    #[Needs(Scope::Read)]
    #[Route('/api/items/{code}/attachments', name: 'api_attachments', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function all(Item $item): JsonResponse
    {
        return Answers::json([
            'items' => array_map(static fn (Attachment $one): array => self::told($one, $item), $this->attachments->of($item)),
            'next' => null,
        ]);
    }

    #[Told('Lays a file beside an item.', 201, 'Attachment', 'AttachmentForm', 'multipart/form-data')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/items/{code}/attachments', name: 'api_attachment_add', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function add(Actor $actor, Viewer $viewer, Item $item, Request $request): JsonResponse
    {
        $this->may($viewer, $item);
        if (!str_starts_with(strtolower($request->headers->get('Content-Type') ?? ''), 'multipart/form-data')) {
            throw new UnsupportedMediaTypeHttpException();
        }
        $unknown = array_diff(array_keys($request->request->all() + $request->files->all()), ['file']);
        if ([] !== $unknown) {
            throw InvalidFields::at('/'.Fields::escaped((string) current($unknown)), 'No such field is known here.');
        }
        $file = $request->files->get('file');
        if (!$file instanceof UploadedFile || !$file->isValid()) {
            throw InvalidFields::at('/file', 'A file is wanted.');
        }
        try {
            $attachment = $this->attachments->add(
                $actor, $item, $file->getPathname(), $file->getClientOriginalName(), (string) $file->getMimeType(),
            );
        } catch (CannotChange $e) {
            throw InvalidFields::at('/file', $e->trans($this->translator));
        }

        return $this->made($attachment, $item);
    }

    #[Told('Tells of a file that belongs to an item.', body: 'Attachment')]
    #[Needs(Scope::Read)]
    #[Route('/api/attachments/{code}', name: 'api_attachment', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function one(Viewer $viewer, string $code): JsonResponse
    {
        return Answers::json(self::told(...$this->seen($viewer, $code)));
    }

    #[Told('Gives out the bytes of such a file.', body: 'Bytes', answer: 'application/octet-stream', also: [409])]
    #[Needs(Scope::Export)]
    #[Route('/api/attachments/{code}/file', name: 'api_attachment_file', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['GET'])]
    public function bytes(Viewer $viewer, string $code): Response
    {
        [$attachment] = $this->seen($viewer, $code);
        if (!$attachment->isWhole() || !is_file($this->attachments->path($attachment))) {
            throw new ConflictHttpException();
        }

        return new BinaryFileResponse($this->attachments->path($attachment), Response::HTTP_OK, [
            'Content-Type' => 'application/octet-stream', 'Cache-Control' => 'no-store',
            'Content-Disposition' => Download::attachment($attachment->name),
        ], false);
    }

    #[Told('Sets the marks of a recording.', body: 'Attachment', takes: 'AttachmentChange', type: 'application/merge-patch+json',
        also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/attachments/{code}', name: 'api_attachment_change', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function change(Viewer $viewer, string $code, Request $request): JsonResponse
    {
        [$attachment, $item] = $this->seen($viewer, $code);
        $this->may($viewer, $item);
        Answers::mustMatch($request, $attachment->etag());
        $fields = Fields::ofPatch($request);
        $marks = self::marks($fields);
        $fields->done();
        if (null !== $marks) {
            $this->attachments->mark($attachment, $marks);
        }

        return Answers::json(self::told(...$this->seen($viewer, $code)));
    }

    #[Told('Takes a file away from its item; its bytes stay, and it can be brought back.', 204, also: [412, 428])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/attachments/{code}', name: 'api_attachment_delete', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['DELETE'])]
    public function delete(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        [$attachment, $item] = $this->seen($viewer, $code);
        $this->may($viewer, $item);
        Answers::mustMatch($request, $attachment->etag());
        $this->attachments->takeAway($actor, $item, $attachment);

        return new Response('', Response::HTTP_NO_CONTENT);
    }

    #[Told('Brings such a file back.', body: 'Attachment')]
    // Whether they may is asked of what they name: what they do not see is not there.
    #[Needs(Scope::Write)]
    #[Route('/api/attachments/{code}/restore', name: 'api_attachment_restore', requirements: self::CODE,
        defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function restore(Actor $actor, Viewer $viewer, string $code): JsonResponse
    {
        [$attachment, $item] = $this->seen($viewer, $code, true);
        $this->may($viewer, $item);
        if (null !== $attachment->deletedAt) {
            $this->attachments->takeAway($actor, $item, $attachment, true);
        }

        return Answers::json(self::told(...$this->seen($viewer, $code)));
    }

    #[Told('Begins a recording: an item, and what of it will come in pieces.', 201, 'Attachment', 'RecordingRequest')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/recordings', name: 'api_recording_begin', defaults: FetchMetadataGuard::OPEN, methods: ['POST'])]
    public function begin(Actor $actor, Viewer $viewer, Request $request, SpokenNotes $spoken): JsonResponse
    {
        $fields = Fields::of($request);
        $type = $fields->text('type', 100) ?? SpokenNotes::TYPES[0];
        if (!\in_array($type, SpokenNotes::TYPES, true)) {
            $fields->wrong('type', 'One of these is wanted: '.implode(', ', SpokenNotes::TYPES).'.');
        }
        $title = $fields->text('title', Item::LONGEST_TITLE);
        $under = $fields->text('parent', 20);
        $parent = null === $under ? null : $this->items->byCode($viewer, $under);
        if (null !== $under && (null === $parent || !$this->items->mayChange($viewer, $parent))) {
            $fields->wrong('parent', 'There is no such item.');
        }
        $fields->done();

        return $this->made(...$spoken->begin($actor, $viewer, $parent, $type, $title));
    }

    #[Told('Adds a piece of a recording at Upload-Offset.', 204, null, 'Piece', self::PIECE, also: [409])]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/recordings/{code}', name: 'api_recording_piece', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['PATCH'])]
    public function piece(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        $attachment = $this->own($actor, $viewer, $code);
        if (self::PIECE !== strtolower(trim(explode(';', $request->headers->get('Content-Type') ?? '')[0]))) {
            throw new UnsupportedMediaTypeHttpException();
        }
        $at = $request->headers->get('Upload-Offset') ?? '';
        if (1 !== preg_match('/^\d{1,12}$/D', $at)) {
            throw new BadRequestHttpException();
        }
        if ((int) $at !== $attachment->bytes) {
            throw new ConflictHttpException('', null, 0, ['Upload-Offset' => (string) $attachment->bytes]);
        }
        try {
            $there = $this->attachments->append($attachment, (int) $at, $request->getContent(true));
        } catch (CannotChange) {
            throw new ConflictHttpException();
        }

        return new Response('', Response::HTTP_NO_CONTENT, ['Upload-Offset' => (string) $there, 'Cache-Control' => 'no-store']);
    }

    #[Told('Ends a recording: from now on it is what its checksum says.', body: 'Attachment', takes: 'AttachmentChange')]
    #[Needs(Scope::Write, Right::Keep)]
    #[Route('/api/recordings/{code}/end', name: 'api_recording_end', requirements: self::CODE, defaults: FetchMetadataGuard::OPEN,
        methods: ['POST'])]
    public function end(Actor $actor, Viewer $viewer, string $code, Request $request): JsonResponse
    {
        $attachment = $this->own($actor, $viewer, $code);
        $fields = Fields::of($request);
        $marks = self::marks($fields);
        $fields->done();
        if (null !== $marks) {
            $this->attachments->mark($attachment, $marks);
        }
        $this->attachments->finish($attachment);

        return Answers::json(self::told(...$this->seen($viewer, $code)));
    }

    private function own(Actor $actor, Viewer $viewer, string $code): Attachment
    {
        [$attachment, $item] = $this->seen($viewer, $code);
        $this->may($viewer, $item);

        return $attachment->person === $actor->name ? $attachment : throw new AccessDeniedHttpException();
    }

    /** @return list<array{at: float, text: string}>|null */
    private static function marks(Fields $fields): ?array
    {
        $list = $fields->list('marks', Attachments::MOST_MARKS);
        $marks = [];
        foreach ($list ?? [] as $inner) {
            $at = $inner->decimal('at');
            $text = $inner->text('text', Attachments::LONGEST_MARK) ?? '';
            if (!$inner->isWrong() && (null === $at || $at < 0 || $at > Attachments::LONGEST_SOUND)) {
                $inner->wrong('at', 'Seconds from the beginning are wanted, at most '.Attachments::LONGEST_SOUND.'.');
            }
            $fields->take($inner);
            $marks[] = ['at' => $at ?? 0.0, 'text' => $text];
        }

        return null === $list ? null : $marks;
    }

    private function made(Attachment $attachment, Item $item): JsonResponse
    {
        return Answers::json(
            self::told($attachment, $item), Response::HTTP_CREATED,
            ['Location' => $this->urls->generate('api_attachment', ['code' => $attachment->code])],
        );
    }

    /** @return array<string, mixed> */
    private static function told(Attachment $one, Item $item): array
    {
        return [
            'code' => $one->code, 'item' => $item->code, 'name' => $one->name, 'type' => $one->type, 'bytes' => $one->bytes,
            'sha256' => $one->sha256, 'marks' => $one->marks, 'addedAt' => Answers::moment($one->addedAt), 'addedBy' => $one->person,
            'etag' => $one->etag(),
        ];
    }

    /** @return array{Attachment, Item} */
    private function seen(Viewer $viewer, string $code, bool $orGone = false): array
    {
        return $this->attachments->seen($viewer, $code, $orGone) ?? throw new NotFoundHttpException();
    }

    private function may(Viewer $viewer, Item $item): void
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw new AccessDeniedHttpException();
        }
    }
}
