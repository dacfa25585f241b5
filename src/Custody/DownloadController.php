<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Ypomna\App\Catalogue\CaptureFinder;
use Ypomna\App\Catalogue\Codes;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Warc\Reader;

/** Gives captures out as files. */
final class DownloadController extends AbstractController
{
    public function __construct(private readonly CaptureFinder $captures, private readonly Store $store)
    {
    }

    #[Route('/c/{code}/warc', name: 'capture_warc', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function warc(string $code, CaptureExport $export): Response
    {
        $capture = $this->found($code);
        $file = $capture->warcFile;
        $path = $this->store->path($file->path);
        if (!is_file($path)) {
            throw $this->createNotFoundException('The file of this capture is missing from the store; a verification names it.');
        }
        $originals = $export->originals($capture);
        if ([] !== $originals) {
            // Parts that stand in other files are given along, so that what is given out is whole.
            return $this->pieces($export->warc($capture, $originals), 'application/warc', HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, 'whole-'.basename($file->path)));
        }
        $response = new BinaryFileResponse($path, Response::HTTP_OK, ['Content-Type' => 'application/warc'], true, HeaderUtils::DISPOSITION_ATTACHMENT);
        $response->headers->set('Repr-Digest', 'sha-256=:'.base64_encode((string) hex2bin($file->sha256)).':');

        return $response;
    }

    #[Route('/c/{code}/mhtml', name: 'capture_mhtml', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function mhtml(string $code, CaptureExport $export): Response
    {
        $capture = $this->found($code);

        return $this->pieces($export->mhtml($capture), 'multipart/related', HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $capture->capturedAt->format('Ymd\THis\Z-').$code.'.mhtml'));
    }

    #[Route('/c/{code}/text', name: 'capture_text', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function text(string $code): Response
    {
        $capture = $this->found($code);
        if (null === $capture->textOffset) {
            throw $this->createNotFoundException('No text was kept with this capture.');
        }

        return $this->pieces(Reader::at($this->store->path($capture->warcFile->path), $capture->textOffset)->block(), 'text/plain; charset=utf-8', 'inline');
    }

    #[Route('/c/{code}/picture/{tile}', name: 'capture_picture', requirements: ['code' => Codes::PATTERN, 'tile' => '\d{1,2}'], methods: ['GET'])]
    public function picture(string $code, int $tile, PictureShelf $pictures): Response
    {
        $capture = $this->found($code);
        $offset = $pictures->offsets($capture)[$tile] ?? throw $this->createNotFoundException('No such picture was kept with this capture.');
        $record = Reader::at($this->store->path($capture->warcFile->path), $offset);
        // Pictures of pages are ours only where we made them: nothing else than a raster is ever shown from here.
        $type = 1 === preg_match('#^image/(?:png|jpeg|webp|gif)$#', (string) $record->header->contentType(), $m) ? $m[0] : 'application/octet-stream';

        return $this->pieces($record->block(), $type, 'inline');
    }

    /**
     * @param iterable<string> $pieces
     */
    private function pieces(iterable $pieces, string $type, string $disposition): Response
    {
        return new StreamedResponse(static function () use ($pieces): void {
            foreach ($pieces as $piece) {
                echo $piece;
                flush();
            }
        }, Response::HTTP_OK, ['Content-Type' => $type, 'Content-Disposition' => $disposition, 'Cache-Control' => 'private, max-age=86400']);
    }

    private function found(string $code): Capture
    {
        return $this->captures->byCode($code) ?? throw $this->createNotFoundException('There is no capture at this permanent address.');
    }
}
