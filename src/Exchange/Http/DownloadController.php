<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Http;

use Psr\Clock\ClockInterface;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\InPublic;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\PagePictures;
use Ypomna\App\Catalogue\Thumbnails;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Exchange\ExportBuilder;
use Ypomna\App\Exchange\MhtmlExport;
use Ypomna\App\Exchange\SeenFile;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Software;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Store;
use Ypomna\Core\FilePieces;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Warc\RollingFile;
use Ypomna\Core\Warc\WarcError;

/** Gives captures out as files. */
#[Allow(Right::Read)]
#[InPublic]
final class DownloadController extends AbstractController
{
    public function __construct(private readonly Store $store)
    {
    }

    #[Route('/c/{code}/warc', name: 'capture_warc', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function warc(Viewer $viewer, Capture $capture, MhtmlExport $export, SeenFile $seen): Response
    {
        $file = $capture->warcFile;
        $path = $this->store->local($file->path);
        if (!is_file($path)) {
            throw $this->createNotFoundException('The file of this capture is missing from the store; a verification names it.');
        }
        if (!$seen->isWhole($viewer, (int) $file->id, $file->path)) {
            return $this->pieces(
                $export->seen($viewer, $capture),
                'application/warc',
                HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, 'whole-'.basename($file->path)),
            );
        }
        $originals = $export->originals($capture);
        if ([] !== $originals) {
            // Parts that stand in other files are given along, so that what is given out is whole.
            return $this->pieces(
                $export->warc($capture, $originals),
                'application/warc',
                HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, 'whole-'.basename($file->path)),
            );
        }
        $response = new BinaryFileResponse(
            $path, Response::HTTP_OK, ['Content-Type' => 'application/warc'], true, HeaderUtils::DISPOSITION_ATTACHMENT,
        );
        $response->headers->set('Repr-Digest', 'sha-256=:'.base64_encode((string) hex2bin($file->sha256)).':');

        return $response;
    }

    #[Route('/c/{code}/mhtml', name: 'capture_mhtml', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function mhtml(Viewer $viewer, Capture $capture, MhtmlExport $export, Request $request): Response
    {
        return $this->pieces(
            $export->mhtml($viewer, $capture, '' !== $request->query->getString('scripts')),
            'multipart/related',
            HeaderUtils::makeDisposition(
                HeaderUtils::DISPOSITION_ATTACHMENT, $capture->capturedAt->format('Ymd\THis\Z-').$capture->code.'.mhtml',
            ),
        );
    }

    #[Route('/c/{code}/text', name: 'capture_text', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function text(Capture $capture): Response
    {
        if (null === $capture->textOffset) {
            throw $this->createNotFoundException('This capture has no text.');
        }

        return $this->pieces(
            $this->store->record($capture->warcFile->path, $capture->textOffset)->block(), 'text/plain; charset=utf-8', 'inline',
        );
    }

    #[Route(
        '/c/{code}/picture/{tile}',
        name: 'capture_picture',
        requirements: ['code' => Codes::PATTERN, 'tile' => '\d{1,2}'],
        methods: ['GET'],
    )]
    public function picture(Capture $capture, int $tile, PagePictures $pictures): Response
    {
        $offset = $pictures->offsets($capture)[$tile]
            ?? throw $this->createNotFoundException('This capture has no such picture.');
        $record = $this->store->record($capture->warcFile->path, $offset);
        // Pictures of pages are ours only where we made them: nothing else than a raster is ever shown from here.
        $type = 1 === preg_match('#^image/(?:png|jpeg|webp|gif)$#', (string) $record->header->contentType(), $m)
            ? $m[0]
            : 'application/octet-stream';

        return $this->pieces($record->block(), $type, 'inline');
    }

    #[Route('/c/{code}/thumb', name: 'capture_thumb', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function thumb(Capture $capture, Thumbnails $thumbnails): Response
    {
        $path = $thumbnails->of($capture) ?? throw $this->createNotFoundException('This capture has no picture.');
        $response = new BinaryFileResponse($path, Response::HTTP_OK, ['Content-Type' => 'image/png']);
        $response->setPrivate()->setMaxAge(86_400);

        return $response;
    }

    /** The page's source as it was received, as text. */
    #[Route('/c/{code}/source', name: 'capture_source', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function source(Capture $capture, MhtmlExport $export): Response
    {
        try {
            $body = $export->bytes($capture->warcFile->path, $capture->responseOffset);
        } catch (WarcError|UnsupportedCoding $e) {
            throw $this->createNotFoundException('The capture cannot be read from its file: '.$e->getMessage());
        }
        $charset = 1 === preg_match(
            '/charset\s*=\s*"?([A-Za-z0-9._:-]+)/i', $export->contentType($capture->warcFile->path, $capture->responseOffset), $m,
        )
            ? $m[1]
            : 'utf-8';

        return $this->pieces($body, 'text/plain; charset='.$charset, 'inline');
    }

    /** The parts of a capture, each to be had by itself. */
    #[Route('/c/{code}/parts', name: 'capture_parts', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function parts(Viewer $viewer, Capture $capture, CaptureParts $parts): Response
    {
        return $this->render(
            'exchange/parts.html.twig',
            [
                'capture' => $capture,
                'parts' => $parts->of(ReadCapture::of($viewer, $capture)),
                'alone' => $parts->isAlone(ReadCapture::of($viewer, $capture)),
            ],
        );
    }

    /** One part as a WARC file: its records, what they refer to, and how the file was made. */
    #[Route(
        '/c/{code}/parts/{number}/warc',
        name: 'capture_part_warc',
        requirements: ['code' => Codes::PATTERN, 'number' => '\d{1,5}'],
        methods: ['GET'],
    )]
    public function partWarc(
        Viewer $viewer,
        Capture $capture,
        int $number,
        CaptureParts $parts,
        ExportBuilder $builder,
        ClockInterface $clock,
    ): Response {
        $place = $parts->of(ReadCapture::of($viewer, $capture))[$number]
            ?? throw $this->createNotFoundException('The capture has no such part.');
        $folder = sys_get_temp_dir().'/ypomna-part-'.bin2hex(random_bytes(8));
        mkdir($folder, 0o700);
        $out = new RollingFile(
            $folder,
            'part',
            \PHP_INT_MAX,
            Software::NAME,
            $clock->now(),
            'one part of the capture '.$capture->code.', with the records that it refers to',
        );
        $parcel = $builder->gather($viewer, $out);
        $parcel->withItsOwn($place->path, $place->offset);
        $leftOut = $parcel->finish();
        $file = $out->close()[0] ?? null;
        if (null === $file || [] !== $leftOut) {
            (new Filesystem())->remove($folder);
            throw $this->createNotFoundException('The part cannot be read: '.($leftOut[0] ?? 'its file is missing.'));
        }

        return $this->pieces((static function () use ($folder, $file): \Generator {
            try {
                yield from FilePieces::ofFile($folder.'/'.$file['name']);
            } finally {
                (new Filesystem())->remove($folder);
            }
        })(), 'application/warc',
            HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $capture->code.'-part-'.$number.'.warc.gz'));
    }

    /** One part as the file that it is, codings taken off. */
    #[Route(
        '/c/{code}/parts/{number}/file',
        name: 'capture_part_file',
        requirements: ['code' => Codes::PATTERN, 'number' => '\d{1,5}'],
        methods: ['GET'],
    )]
    public function partFile(Viewer $viewer, Capture $capture, int $number, CaptureParts $parts, MhtmlExport $export): Response
    {
        $place = $parts->of(ReadCapture::of($viewer, $capture))[$number]
            ?? throw $this->createNotFoundException('The capture has no such part.');
        $name = trim((string) preg_replace('/[^A-Za-z0-9._-]+/', '-', basename((string) parse_url($place->url, \PHP_URL_PATH))), '-.');

        try {
            $body = $export->bytes($place->path, $place->offset);
        } catch (WarcError|UnsupportedCoding $e) {
            throw $this->createNotFoundException('The part cannot be read from its file: '.$e->getMessage());
        }

        return $this->pieces(
            $body,
            'application/octet-stream',
            HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, '' === $name ? 'part-'.$number : mb_strcut($name, 0, 100)),
        );
    }

    /**
     * @param iterable<string> $pieces
     */
    private function pieces(iterable $pieces, string $type, string $disposition): Response
    {
        return new StreamedResponse(static function () use ($pieces): void {
            try {
                foreach ($pieces as $piece) {
                    echo $piece;
                    flush();
                }
            } catch (WarcError|TooLarge) {
                // What could be read has been sent.
            }
        }, Response::HTTP_OK,
            ['Content-Type' => $type, 'Content-Disposition' => $disposition, 'Cache-Control' => 'private, max-age=86400']);
    }
}
