<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureParts;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\HoldingsTotals;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Compare\ComparisonReports;
use Ypomna\App\Exchange\Value\ParcelContents;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Replay\PagePrinter;
use Ypomna\App\Replay\PrintFailed;
use Ypomna\App\Shared\Software;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\App\Store\Store;
use Ypomna\Core\Mhtml\Collection;
use Ypomna\Core\Warc\RollingFile;
use Ypomna\Core\Warc\WarcError;

/**
 * Puts parcels together: captures as WARC, with all that they refer to, or as pages in one MHTML file; or everything that is
 * held. In each lies a manifest that `sha256sum -c` reads.
 */
final readonly class ExportBuilder
{
    private const HELD_AT_ONCE = 200;
    /** More of what was left out is not named one by one. */
    private const MOST_LEFT_OUT = 1_000;

    public function __construct(
        private FileRepository $files,
        private RecordRepository $records,
        private HoldingsTotals $totals,
        private EntityManagerInterface $entities,
        private AddressRepository $addresses, private CaptureRepository $captures,
        private Store $store,
        private Originals $originals,
        private CaptureParts $parts,
        private MhtmlExport $export,
        private PagePrinter $printer,
        private ComparisonReports $reports,
        private SeenFile $seen,
        private MirroredLedger $ledger,
        private ClockInterface $clock,
        #[Autowire('%env(int:WARC_ROLL_BYTES)%')] private int $rollBytes,
    ) {
    }

    /**
     * @param string $folder that is made, or is empty
     * @param \Closure(int): void $told how many captures or files are in
     *
     * @throws ExportFailed
     */
    public function put(Viewer $viewer, ParcelOptions $wish, string $folder, \Closure $told, ?int $rollBytes = null): ParcelContents
    {
        $parcel = new ParcelFolder($folder, $this->room(...));
        try {
            return match (true) {
                $wish->everything => $this->everything($viewer, $parcel, $told, $rollBytes ?? $this->rollBytes),
                null !== $wish->document => $this->own($parcel, $wish),
                $wish->compared => $this->comparison($viewer, $parcel, $wish),
                ParcelOptions::MHTML === $wish->format => $this->pages($viewer, $parcel, $wish, $told),
                ParcelOptions::PDF === $wish->format => $this->printed($viewer, $parcel, $wish, $told),
                default => $this->records($viewer, $parcel, $wish, $told, $rollBytes ?? $this->rollBytes),
            };
        } catch (ExportFailed $e) {
            throw $e;
        } catch (PrintFailed $e) {
            throw new ExportFailed($e->key, $e->values, $e);
        } catch (\RuntimeException $e) {
            throw new ExportFailed('ui.in_its_own_words', ['words' => $e->getMessage()], $e);
        }
    }

    /** A parcel leaves the captures that are to come some of the disk. */
    private function room(): void
    {
        if (!$this->store->hasRoom()) {
            throw new ExportFailed('exchange.disk_is_nearly_full');
        }
    }

    private function records(Viewer $viewer, ParcelFolder $folder, ParcelOptions $wish, \Closure $told, int $rollBytes): ParcelContents
    {
        $out = new RollingFile(
            $folder->path,
            'captures',
            $rollBytes,
            Software::NAME,
            $this->clock->now(),
            'captures that were chosen, with the records that they refer to',
            $this->room(...),
        );
        $parcel = $this->gather($viewer, $out);
        $count = 0;
        foreach ($this->chosen($viewer, $wish) as $capture) {
            $parcel->capture($capture);
            $told(++$count);
            if (0 === $count % self::HELD_AT_ONCE) {
                // A busy address has tens of thousands of captures.
                $this->entities->clear();
            }
        }
        if (0 === $count) {
            throw new ExportFailed('exchange.none_is_held');
        }
        $leftOut = $parcel->finish();
        $folder->has($out->close());

        return new ParcelContents($folder->close(), $count, $leftOut);
    }

    /** The records of a parcel that is still to be written. */
    public function gather(Viewer $viewer, RollingFile $out): RecordExport
    {
        return new RecordExport($viewer, $out, $this->files, $this->records, $this->store, $this->originals, $this->parts, $this->seen);
    }

    private function pages(Viewer $viewer, ParcelFolder $folder, ParcelOptions $wish, \Closure $told): ParcelContents
    {
        $pages = $leftOut = [];
        foreach ($this->chosen($viewer, $wish) as $capture) {
            if (\count($pages) >= ParcelOptions::MOST_PAGES) {
                throw new ExportFailed('exchange.too_many_pages_for_one_file', ['most' => ParcelOptions::MOST_PAGES]);
            }
            try {
                $page = $pages[] = $this->export->page($viewer, $capture, $wish->scripts);
                array_push($leftOut, ...\array_slice($page->leftOut, 0, max(0, self::MOST_LEFT_OUT - \count($leftOut))));
            } catch (WarcError $e) {
                $leftOut[] = \sprintf(
                    '%s, the page at byte %d: %s.', $capture->warcFile->path, $capture->responseOffset, rtrim($e->what, '.'),
                );
            }
            $told(\count($pages));
        }
        if ([] === $pages) {
            throw [] === $leftOut ? new ExportFailed('exchange.none_is_held')
                : new ExportFailed('exchange.none_can_be_read', ['reason' => $leftOut[0]]);
        }
        $title = 1 === \count($pages) ? $pages[0]->title : \sprintf('%d captured pages', \count($pages));
        $seed = implode(' ', array_map(static fn ($page): string => $page->url.' '.$page->at->format('c.u'), $pages));
        $folder->write('pages.mhtml', Collection::write($title, $pages[0]->at, $seed, $pages, $wish->scripts));

        return new ParcelContents($folder->close(), \count($pages), $leftOut);
    }

    private function printed(Viewer $viewer, ParcelFolder $folder, ParcelOptions $wish, \Closure $told): ParcelContents
    {
        $count = 0;
        foreach ($this->chosen($viewer, $wish) as $capture) {
            if (++$count > ParcelOptions::MOST_PRINTED) {
                throw new ExportFailed('exchange.too_many_pages_to_print', ['most' => ParcelOptions::MOST_PRINTED]);
            }
            $folder->write(
                $capture->capturedAt->format('Ymd\THis\Z-').$capture->code.'.pdf', $this->printer->page(ReadCapture::of($viewer, $capture)),
            );
            $told($count);
        }
        if (0 === $count) {
            throw new ExportFailed('exchange.none_is_held');
        }

        return new ParcelContents($folder->close(), $count, []);
    }

    private function comparison(Viewer $viewer, ParcelFolder $folder, ParcelOptions $wish): ParcelContents
    {
        [$old, $new] = array_map(
            fn (string $code): ?Capture => $this->captures->byCode($viewer, $code), [$wish->captures[0] ?? '', $wish->captures[1] ?? ''],
        );
        if (null === $old || null === $new) {
            throw new ExportFailed('exchange.one_of_the_two_is_not_held');
        }
        $folder->write('comparison-'.$old->code.'-'.$new->code.'.pdf', $this->printer->html($this->reports->html($old, $new, true)));

        return new ParcelContents($folder->close(), 2, []);
    }

    private function own(ParcelFolder $folder, ParcelOptions $wish): ParcelContents
    {
        $html = @file_get_contents(self::document($folder->path));
        if (false === $html) {
            throw new ExportFailed('exchange.document_is_gone');
        }
        $name = trim((string) preg_replace('/[^\p{L}\p{M}\p{N}]+/u', '-', mb_substr((string) $wish->document, 0, 60)), '-');
        $folder->write(('' === $name ? 'document' : $name).'.pdf', $this->printer->html($html));

        return new ParcelContents($folder->close(), \count($wish->captures), []);
    }

    /** Where a page of our own waits until it is printed. */
    public static function document(string $folder): string
    {
        return $folder.'.html';
    }

    /** Own files rolled together, those of others unchanged, and the ledger. */
    private function everything(Viewer $viewer, ParcelFolder $folder, \Closure $told, int $rollBytes): ParcelContents
    {
        $out = new RollingFile(
            $folder->path, 'captures', $rollBytes, Software::NAME, $this->clock->now(), 'all captures of this archive', $this->room(...),
        );
        $parcel = $this->gather($viewer, $out);
        $id = $count = 0;
        while ([] !== ($files = $this->files->portion($id, 500, WarcFile::OWN))) {
            foreach ($files as $file) {
                $id = $file->id;
                $parcel->ownFile($file->id, $file->path);
                $told(++$count);
            }
        }
        $leftOut = $parcel->finish();
        $folder->has($out->close());
        foreach ($this->store->files() as $path) {
            if (str_starts_with($path, 'taken-in/')) {
                $folder->write($path, $this->store->pieces($path));
                $told(++$count);
            }
        }
        $folder->write('ledger.txt', (function (): \Generator {
            foreach ($this->ledger->ledger()->lines() as $line) {
                yield $line."\n";
            }
        })());

        return new ParcelContents($folder->close(), $this->totals->pages($viewer), $leftOut);
    }

    /**
     * @return \Generator<int, Capture>
     */
    private function chosen(Viewer $viewer, ParcelOptions $wish): \Generator
    {
        foreach ($wish->captures as $code) {
            $capture = $this->captures->byCode($viewer, $code);
            if (null !== $capture) {
                yield $capture;
            }
        }
        foreach ($wish->addresses as $code) {
            $address = $this->addresses->byCode($viewer, $code);
            $capture = null === $address ? null : $this->captures->first($viewer, $address);
            for (; null !== $capture; $capture = $this->captures->later($viewer, $capture)) {
                yield $capture;
            }
        }
    }
}
