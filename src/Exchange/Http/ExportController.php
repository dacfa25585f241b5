<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Process\Process;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\ExportFailed;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Value\ParcelState;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** Giving out: choosing what goes into a parcel and how, watching it being put together, fetching it. */
#[Allow(Right::Read)]
final class ExportController extends AbstractController
{
    private const STOP_POLLING = 286;

    public function __construct(
        private readonly Parcels $parcels,
        private readonly AddressRepository $addresses,
        private readonly CaptureRepository $captures,
    ) {
    }

    /** The parcels; with `address` and ticked captures in `c`, what is to be given out and how. */
    #[Allow(Right::Keep)]
    #[Route('/export', name: 'export', methods: ['GET'])]
    public function show(Viewer $viewer, Request $request): Response
    {
        $address = $this->addresses->byCode($viewer, $request->query->getString('address'));

        return $this->render(
            'exchange/export.html.twig',
            [
                'address' => $address,
                'chosen' => $this->chosen($viewer, $request->query->all('c')),
                'parcels' => $this->parcels->latest($viewer),
                'why' => null,
            ],
        );
    }

    #[Allow(Right::Keep)]
    #[Route('/export', name: 'export_begin', methods: ['POST'])]
    #[IsCsrfTokenValid('export')]
    public function ask(Viewer $viewer, Request $request): Response
    {
        $form = $request->request;
        $codes = array_map(static fn ($capture): string => $capture->code, $this->chosen($viewer, $form->all('c')));
        $address = $this->addresses->byCode($viewer, $form->getString('address'));
        $everything = '' !== $form->getString('everything');
        $wish = new ParcelOptions(
            $codes,
            [] === $codes && null !== $address ? [$address->code] : [],
            $everything,
            ParcelOptions::format($form->getString('format')),
            '' !== $form->getString('scripts'),
        );
        try {
            return $this->redirectToRoute('parcel', ['code' => $this->parcels->ask($viewer, $wish)->code], Response::HTTP_SEE_OTHER);
        } catch (ExportFailed $e) {
            return $this->render(
                'exchange/export.html.twig',
                ['address' => $address, 'chosen' => [], 'parcels' => $this->parcels->latest($viewer), 'why' => $e],
                new Response('', Response::HTTP_UNPROCESSABLE_ENTITY),
            );
        }
    }

    /** The page printed, from its still reading: a worker does it. */
    #[Route('/c/{code}/pdf', name: 'capture_pdf', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('export')]
    public function pdf(Viewer $viewer, string $code, Request $request): Response
    {
        return $this->printed($viewer, $request, new ParcelOptions([$code], [], false, ParcelOptions::PDF));
    }

    #[Route(
        '/compare/{one}/{other}/report.pdf',
        name: 'compare_pdf',
        requirements: ['one' => Codes::PATTERN, 'other' => Codes::PATTERN],
        methods: ['POST'],
    )]
    #[IsCsrfTokenValid('export')]
    public function comparison(Viewer $viewer, string $one, string $other, Request $request): Response
    {
        return $this->printed($viewer, $request, new ParcelOptions([$one, $other], [], false, ParcelOptions::PDF, compared: true));
    }

    private function printed(Viewer $viewer, Request $request, ParcelOptions $wish): Response
    {
        if (\count($wish->captures) !== \count($this->chosen($viewer, $wish->captures))) {
            throw $this->createNotFoundException('There is no capture at this permanent address.');
        }

        try {
            return $this->redirectToRoute('parcel', ['code' => $this->parcels->ask($viewer, $wish)->code], Response::HTTP_SEE_OTHER);
        } catch (ExportFailed $e) {
            return $this->render(
                'exchange/export.html.twig',
                ['address' => null, 'chosen' => [], 'parcels' => $this->parcels->latest($viewer), 'why' => $e],
                new Response('', Response::HTTP_TOO_MANY_REQUESTS, ['Retry-After' => '30']),
            );
        }
    }

    #[Route('/export/{code}', name: 'parcel', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function parcel(Viewer $viewer, string $code): Response
    {
        return $this->render('exchange/parcel.html.twig', ['parcel' => $this->found($viewer, $code)]);
    }

    #[Route('/export/{code}/progress', name: 'parcel_progress', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function progress(Viewer $viewer, string $code): Response
    {
        $parcel = $this->found($viewer, $code);

        return $this->render(
            'exchange/_parcel.html.twig',
            ['parcel' => $parcel],
            new Response('', ParcelState::Waiting === $parcel->state ? Response::HTTP_OK : self::STOP_POLLING),
        );
    }

    #[Route(
        '/export/{code}/file/{name}', name: 'parcel_file', requirements: ['code' => Codes::PATTERN, 'name' => '.+'], methods: ['GET'],
    )]
    public function fetch(Viewer $viewer, string $code, string $name): Response
    {
        $parcel = $this->found($viewer, $code);
        $path = $this->parcels->file($parcel, $name) ?? throw $this->createNotFoundException('The export has no such file.');

        return (new BinaryFileResponse($path, Response::HTTP_OK, ['Content-Type' => 'application/octet-stream']))->setContentDisposition(
            ResponseHeaderBag::DISPOSITION_ATTACHMENT, basename($name),
        );
    }

    /** All its files in one (POSIX.1-2017, pax format). */
    #[Route('/export/{code}/all', name: 'parcel_all', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function all(Viewer $viewer, string $code): Response
    {
        $parcel = $this->found($viewer, $code);
        if (ParcelState::Ready !== $parcel->state) {
            throw $this->createNotFoundException('The export is not ready.');
        }
        $tar = new Process(
            [
                'tar', '--format=pax', '--sort=name', '--owner=0', '--group=0', '-cf', '-', '-C', \dirname($this->parcels->folder($parcel)),
                '--', $parcel->code,
            ],
            timeout: null,
        );
        $tar->start();

        return new StreamedResponse(static function () use ($tar): void {
            foreach ($tar->getIterator(Process::ITER_SKIP_ERR) as $piece) {
                echo $piece;
                flush();
                $tar->clearOutput();
            }
        }, Response::HTTP_OK,
            ['Content-Type' => 'application/x-tar', 'Content-Disposition' => 'attachment; filename="parcel-'.$parcel->code.'.tar"']);
    }

    #[Allow(Right::Keep)]
    #[Route('/export/{code}/remove', name: 'parcel_remove', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('parcel-remove')]
    public function remove(Viewer $viewer, string $code, Request $request): Response
    {
        $this->parcels->remove($this->found($viewer, $code));

        return $this->redirectToRoute('export', [], Response::HTTP_SEE_OTHER);
    }

    /**
     * @param array<mixed> $codes
     *
     * @return list<Capture>
     */
    private function chosen(Viewer $viewer, array $codes): array
    {
        $found = array_map(
            fn (mixed $code): ?Capture => \is_string($code) ? $this->captures->byCode($viewer, $code) : null,
            \array_slice(array_values(array_unique($codes, \SORT_REGULAR)), 0, ParcelOptions::MOST_CAPTURES),
        );

        return array_values(array_filter($found, static fn (?Capture $capture): bool => null !== $capture));
    }

    private function found(Viewer $viewer, string $code): Parcel
    {
        return $this->parcels->byCode($viewer, $code)
            ?? throw $this->createNotFoundException('There is no export at this address; it may have been removed.');
    }
}
