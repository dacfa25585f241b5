<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\Chromium;
use Ypomna\App\Network\Browser\PageReading;
use Ypomna\App\Network\Browser\PageScroll;
use Ypomna\App\Network\Browser\PageSession;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Extent;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Rendering;
use Ypomna\Core\Page\Document;

/** Loads a page in a browser through the gateway, goes through it as a reader does, and reads out what came of it. */
final class RenderedVisit
{
    private const SCROLL_SECONDS = 20.0;
    private const PICTURE_SECONDS = 12.0;
    private const DRAIN_SECONDS = 30.0;
    /** Share of the window from which on a layer hides the page. */
    private const COVERS = 0.3;
    /** Words beside a layer that asks for consent; with fewer there is no page behind it. */
    private const FEW_WORDS = 5;

    /** From the browser's words to those of Fetch (section 2.2.5). */
    private const DESTINATIONS = [
        'Document' => 'iframe', 'Stylesheet' => 'style', 'Image' => 'image', 'Media' => 'video', 'Font' => 'font', 'Script' => 'script',
        'TextTrack' => 'track',
        'XHR' => 'empty', 'Fetch' => 'empty', 'EventSource' => 'empty', 'Ping' => 'empty', 'WebSocket' => 'websocket',
        'Prefetch' => 'prefetch', 'Manifest' => 'manifest', 'Preflight' => 'empty',
    ];

    private const UNFOLD_SECONDS = 15.0;
    private const REST_SECONDS = 10.0;

    private float $since;

    public function __construct(
        private readonly Gateway $gateway,
        private readonly Visit $visit,
        private readonly string $folder,
        private readonly CaptureOptions $options,
    ) {
        $this->since = microtime(true);
    }

    /**
     * @param float $until Unix time
     * @param \Closure(CaptureStage): void $progress
     *
     * @throws BrowserFailed
     */
    public function visit(Chromium $browser, Url $url, float $until, \Closure $progress): void
    {
        $page = new PageSession($browser, $this->gateway, $this->options->width(), $this->options->height(), $this->options);
        $page->open();
        $this->visit->browser = $page->version();
        $this->took('start');
        $progress(CaptureStage::Loading);
        $this->visit->error = $page->load((string) $url->withoutFragment(), max(1.0, 0.5 * ($until - microtime(true))));
        $page->wait(min($this->options->wait, max(0.0, $until - microtime(true))));
        $this->took('load');
        $main = $this->visit->main = $this->mainExchange($page);
        $this->visit->asked = $page->asked();
        if (null === $main) {
            return;
        }
        $isPage = null === $this->visit->error
            && 1 === preg_match('#^(?:text/|application/(?:xhtml\+xml|xml)$)#', $main->mime ?? 'text/html');
        if ($isPage) {
            $this->read($page, $url, $until, $progress);
        }
        $completion = new Completion($this->gateway, $page->agent(), $main->url);
        if (Extent::Whole !== $this->options->extent) {
            // What belongs to the page is not kept, so nothing of it is fetched.
            $this->visit->wanted = [];
        }
        $this->visit->wanted = $completion->fetchAll($this->visit->wanted, min($until, microtime(true) + self::DRAIN_SECONDS));
        $this->visit->aside += $completion->made;
        $this->gateway->drain();
        $page->rest(min($until, microtime(true) + self::DRAIN_SECONDS));
        $this->visit->asked = $page->asked();
        $this->visit->isCutShort = $page->isCutShort();
        $this->destinations();
        $this->took('complete');
    }

    /**
     * @param \Closure(CaptureStage): void $progress
     */
    private function read(PageSession $page, Url $asked, float $until, \Closure $progress): void
    {
        $reading = new PageReading($page);
        $scroll = new PageScroll($page);
        $layers = [$reading->layers()];
        $progress(CaptureStage::Scrolling);
        if ($this->options->scroll) {
            $scroll->through(max(0.5, min(self::SCROLL_SECONDS, 0.6 * ($until - microtime(true)))));
            if ($this->options->scripts && Extent::Whole === $this->options->extent) {
                $scroll->unfold(min($until, microtime(true) + self::UNFOLD_SECONDS));
            }
            $page->awaitRest(min($until, microtime(true) + self::REST_SECONDS));
        }
        $page->showSkipped();
        $this->gateway->holdSockets();
        $this->took('scroll');
        $progress(CaptureStage::Reading);
        $layers[] = $reading->layers();
        $this->visit->title = $reading->title();
        $reading->saveDom($this->folder.'/dom.html');
        $reading->saveText($this->folder.'/text.txt');
        $this->visit->text = $reading->textNow();
        $html = (string) file_get_contents($this->folder.'/dom.html', false, null, 0, 2 * Document::MAX_BYTES);
        $at = Url::tryParse($reading->url()) ?? $asked;
        $this->visit->wanted = RequestedPart::ofHtml($html, $at);
        $substance = $reading->substance();
        $this->visit->streams = $reading->streams();
        $frames = $this->frames($reading);
        $this->took('read');
        if (Extent::Whole !== $this->options->extent) {
            $this->part($reading, $at, $asked, $html, $substance);

            return;
        }
        $this->visit->moving = $reading->moving();
        $this->visit->places = $reading->places();
        $pictures = $failures = [];
        try {
            $pathOf = fn (int $tile): string => \sprintf('%s/picture-%02d.png', $this->folder, $tile);
            $pictures = $reading->savePictures($pathOf, min(self::PICTURE_SECONDS, max(3.0, $until - microtime(true))));
        } catch (BrowserFailed $e) {
            // A page without its picture is worth more than none; the file says what it lacks.
            $failures[] = 'picture: '.$e->getMessage();
        }
        $this->took('picture');
        $this->visit->rendering = new Rendering($this->folder.'/dom.html', $this->folder.'/text.txt', $pictures, $failures, $frames);
        $text = (string) file_get_contents($this->folder.'/text.txt', false, null, 0, 1_048_576);
        $covered = $hidden = '';
        foreach ($layers as $layer) {
            if ($layer['share'] >= self::COVERS && Troubles::asksForConsent($layer['text'])) {
                [$covered, $hidden] = [$layer['text'], $text];
            }
        }
        $this->visit->seen = new PageSeen(
            (int) $this->visit->main?->status, (string) $asked->withoutFragment(), (string) $at->withoutFragment(), $this->visit->title,
            $text, $html, $substance, '' !== $covered, $scroll->grew(),
        );
        $this->visit->nothingElse = '' !== $covered && self::words($hidden) - self::words($covered) < self::FEW_WORDS && 0 === $substance;
    }

    /** Only what is written on the page, or one part of it. */
    private function part(PageReading $reading, Url $at, Url $asked, string $html, int $substance): void
    {
        $text = (string) file_get_contents($this->folder.'/text.txt', false, null, 0, 1_048_576);
        $this->visit->seen = new PageSeen(
            (int) $this->visit->main?->status, (string) $asked->withoutFragment(), (string) $at->withoutFragment(), $this->visit->title,
            $text, $html, $substance,
        );
        if (Extent::Part !== $this->options->extent) {
            $this->visit->rendering = new Rendering($this->folder.'/dom.html', $this->folder.'/text.txt');

            return;
        }
        $words = $reading->savePart($this->options->part, $this->folder.'/picture-00.png');
        $this->visit->hasPart = null !== $words;
        file_put_contents($this->folder.'/text.txt', (string) $words);
        $this->visit->rendering = null === $words
            ? new Rendering()
            : new Rendering(null, $this->folder.'/text.txt', [$this->folder.'/picture-00.png']);
        $this->took('picture');
    }

    private static function words(string $text): int
    {
        return (int) preg_match_all('/[\p{L}\p{N}]+/u', mb_scrub($text));
    }

    /**
     * The documents of frames after scripts; their text is added to that of the page.
     *
     * @return list<array{url: string, dom: string}>
     */
    private function frames(PageReading $reading): array
    {
        $documents = [];
        foreach ($reading->frames() as $n => $frame) {
            $path = \sprintf('%s/frame-%02d', $this->folder, $n);
            try {
                // Frames without an address of their own stand in the document that holds them.
                if (1 === preg_match('#^https?:#', $frame['url']) && $reading->saveDom($path.'.html', $frame) > 0) {
                    $documents[] = ['url' => explode('#', $frame['url'])[0], 'dom' => $path.'.html'];
                    $url = Url::tryParse($frame['url']);
                    array_push(
                        $this->visit->wanted,
                        ...(null === $url ? [] : RequestedPart::ofHtml(
                            (string) file_get_contents($path.'.html', false, null, 0, Document::MAX_BYTES), $url,
                        )),
                    );
                }
                if ($reading->saveText($path.'.txt', $frame) > 0) {
                    file_put_contents(
                        $this->folder.'/text.txt', "\n\n".file_get_contents($path.'.txt', false, null, 0, 4_194_304), \FILE_APPEND,
                    );
                }
            } catch (BrowserFailed) {
                // A frame that went away in the meantime.
            }
        }

        return $documents;
    }

    /** The exchange that brought the document which the browser ended up with; also one of another kind than HTML. */
    private function mainExchange(PageSession $page): ?Exchange
    {
        $wanted = $page->documentUrl();
        $last = null;
        foreach ($this->gateway->exchanges() as $exchange) {
            if ($exchange->isAnswered() && !isset($this->visit->aside[$exchange->number])
                && (null === $wanted ? 'document' === $exchange->destination : $exchange->url === $wanted)) {
                $last = $exchange;
            }
        }

        return $last;
    }

    /** Over http browsers do not say what they ask for; the page's own exchanges get to know it from what was heard. */
    private function destinations(): void
    {
        foreach ($this->gateway->exchanges() as $exchange) {
            $exchange->destination ??= self::DESTINATIONS[$this->visit->asked[$exchange->url] ?? ''] ?? null;
        }
    }

    private function took(string $step): void
    {
        $this->visit->seconds[$step] = round(microtime(true) - $this->since, 3);
        $this->since = microtime(true);
    }
}
