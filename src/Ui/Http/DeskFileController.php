<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\DossierArchive;
use Ypomna\App\Api\DossierFile;
use Ypomna\App\Api\DublinCore;
use Ypomna\App\Api\InvalidFields;
use Ypomna\App\Api\ItemRows;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\ChangedSince;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Download;
use Ypomna\App\Shared\Viewer;

/** Items and dossiers taken along as files, and taken back. */
#[Allow(Right::Read)]
final class DeskFileController extends AbstractController
{
    private const FORMS = ['form' => 'json|csv|xml'];
    private const TYPES = ['json' => 'application/json', 'csv' => 'text/csv; charset=utf-8', 'xml' => 'application/xml'];

    public function __construct(
        private readonly DossierRepository $dossiers,
        private readonly ItemRepository $items,
        private readonly DossierFile $files,
        private readonly DublinCore $records,
    ) {
    }

    #[Route('/desk/files', name: 'desk_files', methods: ['GET'])]
    public function page(): Response
    {
        return $this->render('ui/desk_files.html.twig', ['done' => null, 'why' => null, 'different' => []]);
    }

    #[Route('/desk/items.{form}', name: 'desk_items_file', requirements: self::FORMS, methods: ['GET'])]
    public function all(Viewer $viewer, string $form): Response
    {
        $items = $this->files->told($viewer, new ItemQuery(order: ItemOrder::Oldest, most: 200));
        $pieces = match ($form) {
            'csv' => self::table($items), 'xml' => $this->records->pieces($items, []), default => self::list($items),
        };

        return Download::streamed($pieces, self::TYPES[$form] ?? '', 'items.'.$form);
    }

    #[Route('/dossiers/{code}/file.{form}', name: 'dossier_file', requirements: ['code' => Codes::PATTERN] + self::FORMS, methods: ['GET'])]
    public function one(Viewer $viewer, string $code, string $form): Response
    {
        $dossier = $this->dossiers->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such dossier.');
        $items = $this->files->told($viewer, new ItemQuery(within: $code, order: ItemOrder::Oldest, most: 200));
        $names = [];
        foreach ('xml' === $form ? $this->dossiers->tree($viewer, $dossier) : [] as $one) {
            $names[$one->code] = $one->name;
        }
        $pieces = match ($form) {
            'csv' => self::table($items), 'xml' => $this->records->pieces($items, $names),
            default => $this->files->pieces($viewer, $dossier),
        };

        return Download::streamed($pieces, self::TYPES[$form] ?? '', $dossier->name.'.'.$form);
    }

    /** With the attachments of its items. */
    #[Route('/dossiers/{code}/file.zip', name: 'dossier_zip', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function zip(Viewer $viewer, string $code, DossierArchive $archive): Response
    {
        $dossier = $this->dossiers->byCode($viewer, $code) ?? throw $this->createNotFoundException('There is no such dossier.');
        $name = $dossier->name;
        try {
            $path = $archive->make($viewer, $dossier);
        } catch (CannotChange $e) {
            return $this->render('desk/not_done.html.twig', [
                'why' => $e, 'back' => $this->generateUrl('dossier', ['code' => $code]),
            ], new Response('', Response::HTTP_UNPROCESSABLE_ENTITY));
        }

        return (new BinaryFileResponse($path, Response::HTTP_OK, [
            'Content-Type' => 'application/zip', 'Content-Disposition' => Download::attachment($name.'.zip'),
        ], false))->deleteFileAfterSend();
    }

    #[Allow(Right::Keep)]
    #[Route('/desk/files', name: 'desk_files_take', methods: ['POST'])]
    #[IsCsrfTokenValid('item')]
    public function take(Actor $actor, Viewer $viewer, Request $request, DossierArchive $archive): Response
    {
        $file = $request->files->get('file');
        $why = null;
        $different = [];
        $done = null;
        if (!$file instanceof UploadedFile || !$file->isValid()) {
            $why = $file instanceof UploadedFile ? $file->getErrorMessage() : '';
        } else {
            $stream = fopen($file->getPathname(), 'r');
            if (false === $stream) {
                throw new \RuntimeException('What came cannot be read.');
            }
            $named = strtolower($file->getClientOriginalName());
            $replaces = '1' === $request->request->getString('replace');
            try {
                $done = str_ends_with($named, '.zip')
                    ? $archive->take($actor, $viewer, $file->getPathname(), $replaces)
                    : $this->files->take($actor, $viewer, $stream, str_ends_with($named, '.csv'), $replaces) + ['attached' => 0];
            } catch (InvalidFields $e) {
                $why = implode(' ', array_map(
                    static fn (array $one): string => ('' === $one['pointer'] ? '' : $one['pointer'].': ').$one['detail'], $e->errors,
                ));
            } catch (ChangedSince $e) {
                $different = $this->items->byCodes($viewer, $e->items);
            }
        }

        return $this->render('ui/desk_files.html.twig',
            ['done' => null === $done ? null : array_diff_key($done, ['codes' => 0]), 'why' => $why, 'different' => $different],
            new Response(
                '', null === $done ? ([] === $different
                    ? Response::HTTP_UNPROCESSABLE_ENTITY : Response::HTTP_CONFLICT) : Response::HTTP_OK,
            ));
    }

    /**
     * @param iterable<array<string, mixed>> $items
     *
     * @return \Generator<int, string>
     */
    private static function table(iterable $items): \Generator
    {
        yield ItemRows::head();
        foreach ($items as $item) {
            yield ItemRows::row($item);
        }
    }

    /**
     * @param iterable<array<string, mixed>> $items
     *
     * @return \Generator<int, string>
     */
    private static function list(iterable $items): \Generator
    {
        yield '{"items":[';
        $isFirst = true;
        foreach ($items as $item) {
            yield ($isFirst ? '' : ',').json_encode($item, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES
                | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PRESERVE_ZERO_FRACTION);
            $isFirst = false;
        }
        yield ']}';
    }
}
