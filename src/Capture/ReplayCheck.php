<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Revolt\EventLoop;
use Ypomna\App\Network\Browser\BrowserFailed;
use Ypomna\App\Network\Browser\Chromium;
use Ypomna\App\Network\Browser\PageReading;
use Ypomna\App\Network\Browser\PageScroll;
use Ypomna\App\Network\Browser\PageSession;
use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Replay\CaptureLinks;
use Ypomna\App\Replay\FileHoldings;
use Ypomna\App\Replay\OpenRights;
use Ypomna\App\Replay\PageAnswers;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\PageWords;
use Ypomna\App\Replay\ReaderWindow;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Replay\ReplayServer;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Judgement;
use Ypomna\Core\Completeness\PictureLikeness;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordHeader;

/**
 * Reads a capture back in a browser that has no network, and looks whether it shows what was seen: first the document as it
 * was rendered; where that does not do, with its scripts running.
 */
final readonly class ReplayCheck
{
    private const SECONDS = 20.0;
    private const PICTURE_SECONDS = 12.0;
    private const LOOKS_STILL = 2;
    private const LOOKS_ALIVE = 3;
    /** Seconds before the second look, twice as many before the third. */
    private const PAUSE = 0.8;

    /** @param (\Closure(RecordHeader): (Record|null))|null $elsewhere finds what a part refers to that was kept before */
    public function __construct(private string $browser, private ?\Closure $elsewhere = null)
    {
    }

    /**
     * @param string $warc the file that was just written
     * @param string $folder an empty folder
     * @param string $text what was seen, white space folded
     * @param list<string> $pictures what was seen, PNG tiles
     * @param list<array{int, int, int, int}> $moving where it moved by itself
     * @param float|null $sockets for how long its sockets spoke, in seconds: then it has to show the same with its scripts as well
     *     (`sockets`); null if it had none
     * @param WalledBrowser|null $given one that started afresh, which stays open; null: one of its own is started
     *
     * @return array{equal: bool, mode: string, text: bool, picture: float, missing: list<string>, sockets?: bool} addresses that were asked
     *     for in vain
     *
     * @throws BrowserFailed
     */
    public function check(
        string $warc, Url $page, string $folder, string $text, array $pictures, CaptureOptions $options,
        array $moving = [], ?float $sockets = null, ?WalledBrowser $given = null,
    ): array {
        $holdings = new FileHoldings($this->elsewhere);
        $holdings->add($warc);
        $capture = $holdings->nearest(Viewer::system(), (string) $page, new \DateTimeImmutable('@0'))
            ?? throw new BrowserFailed('The page is not found in its own file.');
        $hosts = new PageHosts('localhost');
        $words = new PageWords('', '', static fn (string $url, string $inject): string => '<!doctype html>'.$inject);
        $root = Settings::program();
        $proof = ReadingProof::passing();
        $answers = new PageAnswers(
            $hosts, new OpenRights(Viewer::system()), $holdings, $words,
            trim((string) file_get_contents($root.'/assets/replay-shim.js')), $proof, ReplayServer::windows(...),
        );
        $server = new ReplayServer($hosts, $answers, new ReaderWindow($holdings, $hosts, $proof, [], $root.'/public'));
        $given?->lead($server->serve(...));
        $browser = $given;
        try {
            $browser ??= WalledBrowser::start($this->browser, $folder, $server->serve(...));
            $browser->chromium->until(5 * self::SECONDS);
            $result = ['equal' => false, 'mode' => 'still', 'text' => false, 'picture' => 0.0, 'missing' => []];
            foreach ([ReplayMode::Still, ReplayMode::Alive] as $mode) {
                $links = new CaptureLinks($hosts, $capture->code, $mode, 'http', ':'.$browser->port(), true);
                $address = $links->place(Url::parse($capture->url));
                $again = $this->look(
                    $browser->chromium, $address, $hosts, $folder, $text, $pictures, $options, $mode, $moving, $sockets ?? 0.0,
                );
                if (ReplayMode::Alive === $mode && null !== $sockets) {
                    $result['sockets'] = $again['equal'];
                }
                $result = ReplayMode::Still === $mode || ($again['equal'] && !$result['equal']) ? $again + $result : $result;
                if ($again['equal'] && null === $sockets) {
                    break;
                }
            }

            return $result;
        } finally {
            if (null === $given) {
                $browser?->end();
            }
        }
    }

    /**
     * @param list<string> $pictures
     * @param list<array{int, int, int, int}> $moving
     *
     * @return array{equal: bool, mode: string, text: bool, picture: float, missing: list<string>}
     */
    private function look(
        Chromium $browser, string $address, PageHosts $hosts, string $folder, string $text, array $pictures,
        CaptureOptions $options, ReplayMode $mode, array $moving, float $sockets,
    ): array {
        $page = new PageSession($browser, null, $options->width(), $options->height(), new CaptureOptions(phone: $options->phone));
        $page->open();
        $reading = new PageReading($page);
        $page->load($address, self::SECONDS);
        if (ReplayMode::Alive === $mode) {
            $begun = microtime(true);
            (new PageScroll($page))->through(self::SECONDS / 2);
            self::wait(min(self::SECONDS, $sockets) - (microtime(true) - $begun));
        }
        $moving = [...$moving, ...$reading->moving()];
        $same = false;
        $likeness = 0.0;
        // On a machine that is busy, frames and fonts come late; what is wrong is so at each look.
        for ($try = 0; $try < (ReplayMode::Alive === $mode ? self::LOOKS_ALIVE : self::LOOKS_STILL)
            && !($same && $likeness >= Judgement::ALIKE); ++$try) {
            self::wait($try * self::PAUSE);
            $same = $this->reads($reading, $text, $mode);
            // A very long page is held against what there is of its picture.
            $pathOf = static fn (int $tile): string => \sprintf('%s/again-%s-%02d.png', $folder, $mode->value, $tile);
            $again = [] === $pictures ? [] : $reading->savePictures($pathOf, self::PICTURE_SECONDS, $pictures);
            $likeness = max(
                $likeness,
                [] === $pictures ? 1.0 : PictureLikeness::of(\array_slice($pictures, 0, max(1, \count($again))), $again, $moving),
            );
        }
        $missing = [];
        foreach ($page->answered() as $asked => $status) {
            $parts = parse_url($asked);
            $of = \is_array($parts) && 404 === $status
                ? $hosts->read($parts['host'] ?? '', ($parts['path'] ?? '/').(isset($parts['query']) ? '?'.$parts['query'] : ''))
                : null;
            if (null !== $of) {
                $missing[] = $of->spelled;
            }
        }

        return [
            'equal' => $same && $likeness >= Judgement::ALIKE, 'mode' => $mode->value, 'text' => $same, 'picture' => round($likeness, 4),
            'missing' => $missing,
        ];
    }

    /** Whether the text is there; scripts may take a while to put it there. */
    private function reads(PageReading $reading, string $text, ReplayMode $mode): bool
    {
        for ($n = 0; $reading->textNow() !== $text; ++$n) {
            if (ReplayMode::Alive !== $mode || $n >= 6) {
                return false;
            }
            self::wait(0.4);
        }

        return true;
    }

    private static function wait(float $seconds): void
    {
        if ($seconds > 0.0) {
            $suspension = EventLoop::getSuspension();
            EventLoop::delay($seconds, static fn () => $suspension->resume());
            $suspension->suspend();
        }
    }
}
