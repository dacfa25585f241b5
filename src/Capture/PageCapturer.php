<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Psr\Clock\ClockInterface;
use Revolt\EventLoop;
use Symfony\Component\Uid\Uuid;
use Ypomna\App\Capture\Browser\BrowserFailed;
use Ypomna\App\Capture\Browser\Chromium;
use Ypomna\App\Capture\Browser\PageSession;
use Ypomna\App\Capture\Network\Listener;
use Ypomna\App\Capture\Network\Stream;
use Ypomna\App\Catalogue\Originals;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\CaptureFacts;
use Ypomna\Core\Fetch\CaptureFile;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Rendering;

/**
 * Keeps one page: Chromium loads it through the recording gateway, and what passed becomes one WARC file.
 */
final readonly class PageCapturer
{
    public const SOFTWARE = 'Ypomna 0.1';

    private const SCROLL_SECONDS = 20.0;
    private const DRAIN_SECONDS = 60.0;

    public function __construct(
        private WebAccess $web,
        private GatewayCertificate $certificate,
        private ClockInterface $clock,
        private Limits $limits,
        private Originals $originals,
        private string $browser,
        private string $agent,
        private string $clockSource = 'system',
    ) {
    }

    /**
     * @param string                       $folder   an empty folder of this capture's own; the caller removes it
     * @param string                       $target   path of the WARC file; it is made, synced, and complete on return
     * @param \Closure(CaptureStage): void $progress
     *
     * @throws NotKept
     */
    public function keep(Url $url, string $folder, string $target, string $fileName, \Closure $progress): void
    {
        $progress(CaptureStage::Opening);
        mkdir($folder.'/exchanges');
        $pathfinder = $this->web->pathfinder($this->limits);
        $gateway = new Gateway($pathfinder, $folder.'/exchanges', $this->limits, $this->clock->now(...), static fn (): float => hrtime(true) / 1e9, self::browserServices());
        $listener = Listener::open('127.0.0.1:0', static fn (Stream $client, bool $tls) => $gateway->serve($client, $tls), ['local_cert' => $this->certificate->path(), 'alpn_protocols' => 'http/1.1'], 120.0);
        $browser = null;
        try {
            $browser = Chromium::start($this->browser, $folder, $listener->port());
            $page = new PageSession($browser, $gateway);
            $page->open();
            $progress(CaptureStage::Loading);
            $error = $page->load((string) $url->withoutFragment(), $this->limits->maxSeconds / 2);
            $main = $this->mainExchange($gateway, $page) ?? throw $this->reason($gateway, $error);
            $isPage = null === $error && 1 === preg_match('#^(?:text/|application/(?:xhtml\+xml|xml)$)#', $main->mime ?? 'text/html');
            $rendering = $isPage ? $this->render($page, $folder, $progress) : new Rendering();
            $title = $isPage ? $page->title() : '';
            $version = $page->version();
            foreach ($isPage ? $page->media() : [] as $media) {
                $this->complete($gateway, $media, $version);
            }
            $gateway->drain();
            $page->rest(microtime(true) + self::DRAIN_SECONDS);
        } catch (BrowserFailed $e) {
            if (null !== $gateway->fault()) {
                throw new NotKept('storage', $gateway->fault()->getMessage());
            }
            throw new NotKept('browser', 'The browser failed: '.$e->getMessage());
        } finally {
            $browser?->end();
            $listener->close();
            self::settle();
        }
        if (null !== $gateway->fault()) {
            throw new NotKept('storage', $gateway->fault()->getMessage());
        }
        $progress(CaptureStage::Writing);
        $facts = new CaptureFacts(
            (string) $url, $main->url, $title, 'rendered', $this->agent, self::SOFTWARE, $version, $pathfinder->answers(), $gateway->certificates(),
            'system' === $this->clockSource ? MachineClock::state() : ['source' => $this->clockSource],
        );
        $this->write($target, $fileName, $gateway, $main, $rendering, $facts);
    }

    /** Lets the connections that the browser left behind come to their end. */
    private static function settle(): void
    {
        $suspension = EventLoop::getSuspension();
        EventLoop::delay(0.05, static fn () => $suspension->resume());
        $suspension->suspend();
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     */
    private function render(PageSession $page, string $folder, \Closure $progress): Rendering
    {
        $progress(CaptureStage::Scrolling);
        $page->scrollThrough(self::SCROLL_SECONDS);
        $progress(CaptureStage::Reading);
        $page->saveDom($folder.'/dom.html');
        $page->saveText($folder.'/text.txt');
        $pictures = $failures = [];
        try {
            $pictures = $page->savePictures(static fn (int $tile): string => \sprintf('%s/picture-%02d.png', $folder, $tile));
        } catch (BrowserFailed $e) {
            // A page without its picture is worth more than none; the file says what it lacks.
            $failures[] = 'picture: '.$e->getMessage();
        }

        return new Rendering($folder.'/dom.html', $folder.'/text.txt', $pictures, $failures);
    }

    /** The exchange that brought the document which the browser ended up with; also one of another kind than HTML. */
    private function mainExchange(Gateway $gateway, PageSession $page): ?Exchange
    {
        $wanted = $page->documentUrl();
        $last = null;
        foreach ($gateway->exchanges() as $exchange) {
            if ($exchange->isAnswered() && (null === $wanted ? 0 === $exchange->number || $this->isRedirectTarget($gateway, $exchange) : $exchange->url === $wanted)) {
                $last = $exchange;
            }
        }

        return null !== $last && null !== $last->status && ($last->status < 300 || $last->status >= 400 || null !== $wanted) ? $last : null;
    }

    private function isRedirectTarget(Gateway $gateway, Exchange $exchange): bool
    {
        $before = $gateway->exchanges()[$exchange->number - 1] ?? null;

        return null !== $before?->status && $before->status >= 300 && $before->status < 400 && $exchange->number < 20;
    }

    private function reason(Gateway $gateway, ?string $error): NotKept
    {
        foreach (array_reverse($gateway->exchanges()) as $exchange) {
            if (null !== $exchange->failure) {
                return NotKept::because($exchange->failure, $exchange->message ?? 'The page could not be had.');
            }
        }
        if (null !== $error && str_contains($error, 'TOO_MANY_REDIRECTS')) {
            return new NotKept('redirect-loop', 'The page leads from one address to the next without end.');
        }

        return NotKept::because(FailureReason::BadResponse, 'The page could not be opened'.(null === $error ? '.' : ' (the browser says '.$error.').'));
    }

    /** A video or audio file of which the browser has asked for parts only is fetched whole. */
    private function complete(Gateway $gateway, string $media, string $userAgent): void
    {
        $url = Url::tryParse($media);
        if (null === $url || !$url->isWeb()) {
            return;
        }
        foreach ($gateway->exchanges() as $exchange) {
            if ($exchange->url === (string) $url->withoutFragment() && $exchange->isAnswered() && (200 === $exchange->status || $this->coversAll($exchange))) {
                return;
            }
        }
        $gateway->fetch($url, $userAgent);
    }

    private function coversAll(Exchange $exchange): bool
    {
        $head = (string) file_get_contents($exchange->responsePath, false, null, 0, 16_384);

        return 206 === $exchange->status && 1 === preg_match('#^content-range:\s*bytes 0-(\d+)/(\d+)#im', $head, $m) && (int) $m[1] + 1 === (int) $m[2];
    }

    private function write(string $target, string $fileName, Gateway $gateway, Exchange $main, Rendering $rendering, CaptureFacts $facts): void
    {
        $out = @fopen($target, 'w');
        if (false === $out) {
            throw new NotKept('storage', 'The store cannot be written to.');
        }
        try {
            (new CaptureFile(static fn (): string => 'urn:uuid:'.Uuid::v4()->toRfc4122(), $this->originals->known(...)))->write($out, $fileName, $gateway->exchanges(), $main, $rendering, $facts);
            if (!fflush($out) || !fsync($out)) {
                throw new NotKept('storage', 'The file could not be written to the disk for good.');
            }
        } catch (\RuntimeException $e) {
            throw $e instanceof NotKept ? $e : new NotKept('storage', 'The capture could not be written: '.$e->getMessage());
        } finally {
            fclose($out);
        }
    }

    /**
     * Hosts that Chromium asks on its own account; a page's requests to them carry Sec-Fetch fields and are kept.
     *
     * @return list<string>
     */
    private static function browserServices(): array
    {
        return ['*.googleapis.com', '*.gvt1.com', 'clients2.google.com', 'accounts.google.com', 'update.googleapis.com', 'safebrowsing.google.com', 'optimizationguide-pa.googleapis.com'];
    }
}
