<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\PageCapturer;
use Ypomna\App\Capture\Sites\Value\GroupResult;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Capture\Value\PageTask;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\DataFolder;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\FilePieces;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Glance;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcReader;

/** Keeps pages of a site in a browser, each as it would be kept by itself, in one file. Sitemaps and feeds need none. */
final readonly class RenderedSite
{
    private const AGAIN = 30;

    public function __construct(
        private PageCapturer $capturer,
        private PlainSite $plain,
        private Limits $limits,
        private DataFolder $folder,
    ) {
    }

    /** @param list<TakenPage> $pages */
    public function capture(Crawl $crawl, int $slot, array $pages, Segment $segment, SiteMemory $memory): GroupResult
    {
        $maps = array_values(array_filter($pages, static fn (TakenPage $page): bool => 'page' !== $page->role));
        $group = $this->plain->capture($crawl, $slot, $maps, $segment, $memory);
        $all = $group->pages;
        [$parts, $bytes] = [$group->parts, $group->bytes];
        foreach ($pages as $page) {
            if ('page' === $page->role) {
                $all[] = $came = new PageResult($page);
                [$some, $more] = $this->page($crawl, $slot, $came, $segment);
                $parts += $some;
                $bytes += $more;
            }
        }

        return new GroupResult($all, $parts, $group->again, $bytes, $group->delay);
    }

    /** @return array{int, int} parts, and bytes in the file */
    private function page(Crawl $crawl, int $slot, PageResult $came, Segment $segment): array
    {
        $files = new Filesystem();
        $folder = $this->folder->work('site-'.$slot);
        $files->remove($folder);
        $files->mkdir($folder, 0o711);
        $file = $folder.'/page.warc.gz';
        try {
            $task = new PageTask(
                new Actor($crawl->agent), $came->page->url, $folder, $file, basename($file),
                (new CaptureOptions())->within($this->limits, $crawl->obey),
            );
            $report = $this->capturer->capture($task, static function (CaptureStage $stage): void {});
            $came->status = $report->status;
            if ('robots' === $report->reason) {
                $came->left = Ruling::Robots;
            } elseif (!$report->written) {
                [$came->reason, $came->message] = [$report->reason, $report->message];
            }
            $came->again = $report->retryAfter
                ?? (null === $report->status && null === $came->left ? self::AGAIN * $came->page->attempts : null);
            if (!$report->written || (null !== $came->again && $came->page->attempts < Frontier::ATTEMPTS)) {
                return [0, 0];
            }
            $this->read($came, $report, $file, $segment);

            return [max(0, $report->parts - 1), (int) filesize($file)];
        } finally {
            $files->remove($folder);
        }
    }

    private function read(PageResult $came, CaptureReport $report, string $file, Segment $segment): void
    {
        $begin = $segment->file->append(FilePieces::ofFile($file));
        ++$segment->pages;
        [$came->verdict, $came->title] = [$report->verdict->value, $report->title];
        $final = Url::parse($report->finalUrl);
        if (AddressKeys::keyHash($report->finalUrl) !== $came->page->keyHash) {
            // It is there under that name, too.
            $came->redirect = $report->finalUrl;
        }
        foreach (WarcReader::open($file)->records() as $record) {
            $isMain = $record->header->uri() === $report->finalUrl;
            if ($isMain && $record->header->is(RecordType::Response)) {
                $came->offset = $begin + $record->offset;
            }
            if ($isMain && $record->header->is(RecordType::Conversion) && str_starts_with($record->header->contentType() ?? '', 'text/html')
                && [] === $came->links) {
                $html = '';
                foreach ($record->block() as $piece) {
                    if (\strlen($html .= $piece) >= Document::MAX_BYTES) {
                        break;
                    }
                }
                $glance = Glance::at($html, $final);
                [$came->links, $came->maps, $came->pieces] = [
                    array_values(array_diff($glance->links, $glance->feeds)), $glance->feeds, $glance->pieces,
                ];
            }
        }
    }
}
