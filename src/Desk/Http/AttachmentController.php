<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\SpokenNotes;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;

/** Files that belong to items: handed in, given out, and recordings that come while somebody speaks. */
#[Allow(Right::Read)]
final class AttachmentController extends AbstractController
{
    private const CODE = ['code' => Codes::PATTERN];

    public function __construct(
        private readonly ItemRepository $items,
        private readonly Attachments $attachments,
        private readonly TranslatorInterface $translator,
    ) {
    }

    #[Allow(Right::Keep)]
    #[Route('/items/{code}/attachments', name: 'attachments_add', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function add(Actor $actor, Viewer $viewer, Item $item, Request $request): Response
    {
        $this->mayChange($viewer, $item);
        $back = $this->generateUrl('item', ['code' => $item->code]);
        try {
            $files = $request->files->all()['files'] ?? [];
            foreach (\is_array($files) ? $files : [$files] as $file) {
                if (!$file instanceof UploadedFile || !$file->isValid()) {
                    throw new CannotChange('desk.file_did_not_come');
                }
                $this->attachments->add(
                    $actor, $item, $file->getPathname(), $file->getClientOriginalName(), (string) $file->getMimeType(),
                );
            }
        } catch (CannotChange $e) {
            return $this->render('desk/not_done.html.twig', ['why' => $e, 'back' => $back], new Response('', 422));
        }

        return $this->redirect($back.'#attachments', Response::HTTP_SEE_OTHER);
    }

    /** Never as a page of ours: what it is, somebody else decided. */
    #[Route('/attachments/{code}', name: 'attachment', requirements: self::CODE, methods: ['GET'])]
    public function give(Viewer $viewer, string $code): Response
    {
        [$attachment] = $this->seen($viewer, $code);
        if (!$attachment->isWhole() || !is_file($this->attachments->path($attachment))) {
            throw $this->createNotFoundException('Its bytes are not there yet.');
        }
        $response = new BinaryFileResponse($this->attachments->path($attachment), Response::HTTP_OK, [
            'Content-Type' => $attachment->givenType(), 'Cache-Control' => 'private, no-cache',
            'Content-Disposition' => $attachment->isSound() || $attachment->isPicture()
                ? 'inline' : Download::attachment($attachment->name),
        ], false);
        $response->setEtag((string) $attachment->sha256);

        return $response;
    }

    /** It is taken away, or comes back; a recording gets other marks. */
    #[Allow(Right::Keep)]
    #[Route('/attachments/{code}', name: 'attachment_act', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function act(Actor $actor, Viewer $viewer, string $code, Request $request): Response
    {
        [$attachment, $item] = $this->seen($viewer, $code, true);
        $this->mayChange($viewer, $item);
        $form = $request->request;
        switch ($form->getString('act')) {
            case 'mark':
                $this->attachments->mark($attachment, [...$attachment->marks, [
                    'at' => (float) $form->getString('at'), 'text' => trim($form->getString('text')),
                ]]);
                break;
            case 'unmark':
                $marks = $attachment->marks;
                unset($marks[$form->getInt('n')]);
                $this->attachments->mark($attachment, array_values($marks));
                break;
            case 'take-away':
                $this->attachments->takeAway($actor, $item, $attachment);

                return $this->redirectToRoute('item', ['code' => $item->code, 'gone' => $code, '_fragment' => 'attachments'], 303);
            case 'bring-back':
                $this->attachments->takeAway($actor, $item, $attachment, true);
                break;
            default:
                throw $this->createNotFoundException('There is no such thing to do with a file.');
        }

        return $this->redirectToRoute('item', ['code' => $item->code, '_fragment' => 'attachments'], Response::HTTP_SEE_OTHER);
    }

    /** A spoken note begins: an item that waits in the intake, or lies under another one. */
    #[Allow(Right::Keep)]
    #[Route('/recordings', name: 'recording_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function begin(Actor $actor, Viewer $viewer, Request $request, SpokenNotes $spoken): Response
    {
        $under = $request->request->getString('parent');
        $parent = '' === $under ? null
            : $this->items->byCode($viewer, $under) ?? throw $this->createNotFoundException('There is no such item.');
        if (null !== $parent) {
            $this->mayChange($viewer, $parent);
        }
        $type = explode(';', $request->request->getString('type'))[0];
        [$attachment, $item] = $spoken->begin(
            $actor, $viewer, $parent, \in_array($type, SpokenNotes::TYPES, true) ? $type : SpokenNotes::TYPES[0],
        );

        return new JsonResponse([
            'code' => $attachment->code, 'item' => $this->generateUrl('item', ['code' => $item->code]),
        ], Response::HTTP_CREATED);
    }

    #[Allow(Right::Keep)]
    #[Route('/recordings/{code}/{at}', name: 'recording_piece', requirements: self::CODE + ['at' => '\d{1,12}'], methods: ['PUT'])]
    public function piece(Actor $actor, Viewer $viewer, string $code, int $at, Request $request): Response
    {
        if (!$this->isCsrfTokenValid('item', (string) $request->headers->get('X-Token'))) {
            return new JsonResponse(null, Response::HTTP_FORBIDDEN);
        }
        [$attachment, $item] = $this->seen($viewer, $code);
        $this->mayChange($viewer, $item);
        if ($attachment->person !== $actor->name) {
            throw $this->createAccessDeniedException();
        }
        try {
            return new JsonResponse(['there' => $this->attachments->append($attachment, $at, $request->getContent(true))]);
        } catch (CannotChange $e) {
            return new JsonResponse(['error' => $e->trans($this->translator)], Response::HTTP_CONFLICT);
        }
    }

    /** It is over; the marks that were set while it ran come along. */
    #[Allow(Right::Keep)]
    #[Route('/recordings/{code}/end', name: 'recording_end', requirements: self::CODE, methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function end(Viewer $viewer, string $code, Request $request): Response
    {
        [$attachment, $item] = $this->seen($viewer, $code);
        $this->mayChange($viewer, $item);
        $marks = json_decode($request->request->getString('marks'), true, 4);
        $taken = [];
        foreach (\is_array($marks) ? $marks : [] as $mark) {
            if (is_numeric($mark) && \count($taken) < Attachments::MOST_MARKS) {
                $taken[] = ['at' => (float) $mark, 'text' => ''];
            }
        }
        if ([] !== $taken) {
            $this->attachments->mark($attachment, [...$attachment->marks, ...$taken]);
        }
        $this->attachments->finish($attachment);

        return new JsonResponse(['item' => $this->generateUrl('item', ['code' => $item->code])]);
    }

    /** @return array{Attachment, Item} */
    private function seen(Viewer $viewer, string $code, bool $orGone = false): array
    {
        return $this->attachments->seen($viewer, $code, $orGone) ?? throw $this->createNotFoundException('There is no such file.');
    }

    private function mayChange(Viewer $viewer, Item $item): void
    {
        if (!$this->items->mayChange($viewer, $item)) {
            throw $this->createAccessDeniedException();
        }
    }
}
