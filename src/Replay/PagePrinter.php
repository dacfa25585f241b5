<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\PageSession;
use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/**
 * Prints archived pages as PDF: their still reading, behind the same wall. The browser lives in the same closed network as one that
 * keeps pages, shut in by its own sandbox, and all that it reaches is what answers for archived pages in this process. It is a
 * worker's work.
 */
final readonly class PagePrinter
{
    private const LOAD_SECONDS = 20.0;
    private const PRINT_SECONDS = 40.0;
    private const MAX_BYTES = 209_715_200;
    private const PIECE = 1_048_576;
    /** A4, in inches. */
    private const PAPER = [
        'paperWidth' => 8.27, 'paperHeight' => 11.69, 'preferCSSPageSize' => true, 'printBackground' => true, 'generateTaggedPDF' => true,
        'generateDocumentOutline' => true, 'displayHeaderFooter' => false, 'transferMode' => 'ReturnAsStream',
    ];

    private PageHosts $hosts;

    public function __construct(
        #[Autowire('%env(CHROMIUM)%')] private string $browser,
        private DataFolder $folder,
        private CatalogueHoldings $holdings,
    ) {
        $this->hosts = new PageHosts('localhost');
    }

    /**
     * @return \Generator<int, string> the PDF file in pieces
     *
     * @throws PrintFailed
     */
    public function page(ReadCapture $capture): \Generator
    {
        $url = Url::tryParse($capture->url);
        if (null === $url || !$url->isWeb()) {
            throw new PrintFailed('replay.only_pages_can_be_printed');
        }

        return $this->printed($capture->viewer, function (PageSession $page, int $port) use ($capture, $url): void {
            $error = $page->load(
                (new CaptureLinks($this->hosts, $capture->code, ReplayMode::Still, 'http', ':'.$port))->place($url), self::LOAD_SECONDS,
            );
            if (null !== $error) {
                throw new PrintFailed('replay.page_cannot_be_opened_for_printing', ['reason' => $error]);
            }
        });
    }

    /**
     * Prints a page that we made ourselves.
     *
     * @param string $html with everything in it
     *
     * @return \Generator<int, string> the PDF file in pieces
     *
     * @throws PrintFailed
     */
    public function html(string $html): \Generator
    {
        return $this->printed(Viewer::nobody(), static function (PageSession $page) use ($html): void {
            $page->call('Emulation.setScriptExecutionDisabled', ['value' => true]);
            $tree = $page->call('Page.getFrameTree');
            $page->call(
                'Page.setDocumentContent',
                ['frameId' => PageSession::text(PageSession::map(PageSession::map($tree, 'frameTree'), 'frame'), 'id'), 'html' => $html],
            );
            PageSession::pause(0.3);
        });
    }

    /**
     * @param Viewer $viewer with whose eyes it is read
     * @param \Closure(PageSession, int): void $open brings the page into the browser; told the port at which archived pages stand
     *
     * @return \Generator<int, string>
     */
    private function printed(Viewer $viewer, \Closure $open): \Generator
    {
        $files = new Filesystem();
        $folder = $this->folder->newWork('print');
        $files->mkdir($folder, 0o700);
        $words = new PageWords('', '', static fn (string $url, string $inject): string => '<!doctype html><title>Not captured</title>');
        // No script of ours is needed in a page that nobody reads.
        $answers = new PageAnswers(
            $this->hosts, new OpenRights($viewer), $this->holdings, $words, 'function () {}', ReadingProof::passing(),
            static fn (): array => [],
        );
        $server = new ReplayServer($this->hosts, $answers, null);
        $browser = null;
        try {
            $browser = WalledBrowser::start($this->browser, $folder, $server->serve(...), mustSandbox: true);
            $browser->chromium->until(self::LOAD_SECONDS + 2 * self::PRINT_SECONDS);
            $page = new PageSession($browser->chromium, null);
            $page->open();
            $open($page, $browser->port());
            $page->call('Emulation.clearDeviceMetricsOverride');
            $handle = PageSession::text($page->call('Page.printToPDF', self::PAPER, self::PRINT_SECONDS), 'stream');
            $bytes = 0;
            do {
                $read = $page->call('IO.read', ['handle' => $handle, 'size' => self::PIECE]);
                $data = PageSession::text($read, 'data');
                $piece = true === ($read['base64Encoded'] ?? null) ? (string) base64_decode($data, true) : $data;
                $bytes += \strlen($piece);
                if ($bytes > self::MAX_BYTES) {
                    throw new PrintFailed('replay.printed_page_is_too_large', ['most' => intdiv(self::MAX_BYTES, 1_048_576)]);
                }
                if ('' !== $piece) {
                    yield $piece;
                }
            } while (true !== ($read['eof'] ?? null));
            if (0 === $bytes) {
                throw new PrintFailed('replay.browser_gave_no_pdf');
            }
        } catch (BrowserFailed $e) {
            throw new PrintFailed('replay.page_cannot_be_printed', ['reason' => $e->getMessage()], $e);
        } finally {
            $browser?->end();
            $files->remove($folder);
        }
    }
}
