<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** Our window around pages that are read from files alone: which moment it is, the ways to others, and the walled-in page. */
final class ReaderWindow
{
    private const TYPES = [
        'css' => 'text/css; charset=utf-8', 'js' => 'text/javascript; charset=utf-8', 'svg' => 'image/svg+xml', 'woff2' => 'font/woff2',
    ];
    private const MOST_LISTED = 2_000;

    /**
     * @param list<array{ReadCapture, string|null}> $pages with their titles
     * @param string $public folder of the built files
     */
    public function __construct(
        private readonly FileHoldings $holdings,
        private readonly PageHosts $hosts,
        private readonly ReadingProof $proof,
        private readonly array $pages,
        private readonly string $public,
    ) {
    }

    /**
     * @param array<string, string> $headers by name in lower case
     * @param string $port with its colon
     */
    public function answer(string $method, string $target, array $headers, string $port): PageAnswer
    {
        [$path, $query] = explode('?', $target, 2) + [1 => ''];
        parse_str($query, $parameters);
        if (!\in_array($method, ['GET', 'HEAD'], true)) {
            return $this->page(405, 'Not allowed', '<h1>This server only reads.</h1>', $port);
        }
        if (1 === preg_match('#^/build/((?:fonts/)?[a-z0-9-]+\.(css|js|svg|woff2))$#D', $path, $m)
            && is_file($this->public.'/build/'.$m[1])) {
            return new PageAnswer(
                200,
                ['Content-Type' => self::TYPES[$m[2]], 'X-Content-Type-Options' => 'nosniff', 'Cache-Control' => 'public, max-age=3600'],
                [(string) file_get_contents($this->public.'/build/'.$m[1])],
            );
        }
        if (1 === preg_match('#^/c/([2-9a-z]{12})(/bar)?$#D', $path, $m)
            && null !== ($capture = $this->holdings->capture(Viewer::system(), $m[1]))) {
            $mode = $this->mode($parameters['mode'] ?? null, $headers);
            if (isset($m[2])
                && !$this->proof->holds($capture->code, \is_string($parameters['proof'] ?? null) ? $parameters['proof'] : '')) {
                return $this->page(403, 'Not told', '<h1>This is not what is read.</h1>', $port);
            }
            $bar = $this->bar($capture, $mode, isset($parameters['mode']));

            return isset($m[2])
                ? new PageAnswer(200, ['Content-Type' => 'text/html; charset=utf-8', 'Cache-Control' => 'no-store'], [$bar])
                : $this->window($capture, $mode, $bar, isset($parameters['mode']) ? $mode->value : '', $port);
        }

        return '/' === $path
            ? $this->page(200, 'Pages in these files', $this->list(), $port)
            : $this->page(
                404, 'Not found', '<h1>There is nothing at this address.</h1><p><a href="/">The pages in these files</a></p>', $port,
            );
    }

    /** Where a page's own document stands. */
    public function frame(ReadCapture $capture, ReplayMode $mode, string $port): string
    {
        return (new CaptureLinks($this->hosts, $capture->code, $mode, 'http', $port))
            ->place(Url::parse($capture->url.(null === $capture->fragment ? '' : '#'.$capture->fragment)));
    }

    private function window(ReadCapture $capture, ReplayMode $mode, string $bar, string $chosen, string $port): PageAnswer
    {
        $body = '<main id="main" tabindex="-1"><aside class="margin" aria-label="Moment of this capture"><a class="wordmark"'
            .' href="/"><img src="/build/mark.svg" alt="" width="22" height="22"> Ypomna</a>'
            .'<div id="bar" data-code="'.$capture->code.'" data-mode="'.$chosen.'" aria-live="polite">'.$bar.'</div>'
            .'<p id="passage" hidden><button type="button" class="quiet" data-copy="">Copy the address of the marked passage</button></p><p'
                .' id="passage-missing" class="alert" role="alert" hidden>The passage of this address is not in the page'
                    .' as shown.</p>'
            .'<div id="findings" data-earlier="{amount} earlier" data-later="{amount} later" data-different="Certainly not what'
                .' was there then" data-same="Certainly the same as then"><details data-kind="gap" data-title="Not captured: {n}"'
                    .' hidden><summary></summary><ul></ul></details><details data-kind="elsewhen" data-title="From another moment: {n}"'
                        .' hidden><summary></summary><ul></ul></details></div></aside>'
            .'<iframe id="page" name="ypomna-page" src="'.self::text($this->frame($capture, $mode, $port)).'" sandbox="allow-scripts'
                .(ReplayMode::Alive === $mode ? ' allow-forms' : '')
                .'" referrerpolicy="no-referrer" title="Archived page"></iframe></main><p class="sr-only" role="status"'
                    .' id="told"></p>';

        return $this->document(200, $capture->url, 'reading', $body, $port);
    }

    private function bar(ReadCapture $capture, ReplayMode $mode, bool $keepMode): string
    {
        $history = $this->holdings->history($capture);
        $codes = array_map(static fn (ReadCapture $one): string => $one->code, $history);
        $here = (int) array_search($capture->code, $codes, true);
        $steps = '';
        foreach ([
            ['ArrowLeft', '←', 'Earlier', $history[$here - 1] ?? null],
            ['ArrowRight', '→', 'Later', $history[$here + 1] ?? null],
            ['Home', 'Home', 'First', $here > 0 ? $history[0] : null],
            ['End', 'End', 'Last', $here < \count($history) - 1 ? $history[\count($history) - 1] : null],
        ] as [$key, $sign, $word, $other]) {
            $steps .= null === $other
                ? ''
                : '<a data-step="'.$key.'" href="/c/'.$other->code.($keepMode ? '?mode='.$mode->value : '').'"><kbd>'.$sign.'</kbd> '.$word
                    .'<span>'.$other->at->format('j M Y, H:i:s').'</span></a>';
        }
        $modes = ReplayMode::Alive === $mode
            ? '<strong>Scripts run, walled in</strong> · <a href="/c/'.$capture->code.'?mode=still">still</a>'
            : '<strong>Still: as it was rendered, no scripts</strong> · <a href="/c/'.$capture->code.'?mode=alive">alive</a>';

        return '<p class="rubric">As it was on</p><p class="margin-date">'.$capture->at->format('j M Y')
            .'</p><p class="margin-time"><time datetime="'.$capture->at->format('Y-m-d\TH:i:s.v\Z').'">'.$capture->at->format('H:i:s')
            .' UTC</time></p>'
            .'<p class="address margin-address"><bdi>'.self::text($capture->url).'</bdi></p><p class="soft">From the file <bdi>'
                .self::text(basename($capture->path)).'</bdi>: what it says of its date and host is its own word.</p>'
            .'<p class="sr-only" data-permanent="/c/'.$capture->code.'" data-proof="'.$this->proof->of($capture->code)
                .'"></p><nav class="steps" aria-label="Captures in time">'.$steps.'</nav><p class="modes">'.$modes
                .'</p><p><a href="/">All pages in these files</a></p>';
    }

    private function list(): string
    {
        $items = '';
        foreach (\array_slice($this->pages, 0, self::MOST_LISTED) as [$capture, $title]) {
            $items .= '<li><a href="/c/'.$capture->code.'"><span class="address"><bdi>'.self::text($capture->url)
                .'</bdi></span> <span class="soft">'.self::text(trim(($title ?? '').' '.$capture->at->format('j M Y, H:i:s').' UTC'))
                .'</span></a></li>';
        }

        return '<h1>Pages in these files</h1>'
            .('' === $items ? '<p class="empty">No page was found in them.</p>' : '<ul class="shelf">'.$items.'</ul>')
            .(\count($this->pages) > self::MOST_LISTED ? '<p class="soft">'.\count($this->pages).' pages; these are the first.</p>' : '');
    }

    /**
     * Scripts run only in browsers that know the whole wall; see ReadController.
     *
     * @param array<string, string> $headers
     */
    private function mode(mixed $wanted, array $headers): ReplayMode
    {
        return (\is_string($wanted) ? ReplayMode::tryFrom($wanted) : null)
            ?? ReplayMode::forBrowser($headers['sec-ch-ua'] ?? '', $headers['user-agent'] ?? '');
    }

    private function page(int $status, string $title, string $main, string $port): PageAnswer
    {
        return $this->document(
            $status,
            $title,
            '',
            '<header class="masthead"><a class="wordmark" href="/"><img src="/build/mark.svg" alt="" width="26" height="26">'
                .' Ypomna</a></header><main id="main" tabindex="-1">'
                .$main.'</main>',
            $port,
        );
    }

    /**
     * The faces of the texts come when the page stands there. No policy keeps openers away (Cross-Origin-Opener-Policy): the first page
     * of a new tab would then cost a second process, and whoever opens this window can neither read it nor steer its frame.
     */
    private function document(int $status, string $title, string $class, string $body, string $port): PageAnswer
    {
        return new PageAnswer($status, [
            'Content-Type' => 'text/html; charset=utf-8', 'Cache-Control' => 'no-store', 'X-Content-Type-Options' => 'nosniff',
            'Referrer-Policy' => 'same-origin',
            'Content-Security-Policy' => "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src"
                ." 'self'; connect-src 'self'; frame-src "
                .$this->hosts->everyPage('http', $port)."; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
        ], ['<!doctype html><html lang="en"><head><meta charset="utf-8"><title>'.self::text($title)
            .' · Ypomna</title><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="color-scheme"'
                .' content="light dark"><link rel="icon" href="/build/mark.svg" type="image/svg+xml"><link rel="stylesheet"'
                    .' href="/build/app.css"><script src="/build/app.js" defer></script></head><body class="'
            .$class.'" data-copied="Copied" data-later="/build/fonts.css">'.$body.'</body></html>']);
    }

    private static function text(string $text): string
    {
        return htmlspecialchars($text, \ENT_QUOTES | \ENT_SUBSTITUTE, 'UTF-8');
    }
}
