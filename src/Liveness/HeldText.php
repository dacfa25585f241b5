<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness;

use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\PageSigns;
use Ypomna\Core\Page\MainText;
use Ypomna\Core\Warc\WarcError;

/**
 * What is held of an address as the page itself. A capture of a parking page, a wall or an error that came with status 200 is
 * passed over: what stands there now must not be measured by it.
 */
final readonly class HeldText
{
    /** Captures that are tried on either side of a moment. */
    private const TRIES = 4;

    public function __construct(private AddressRepository $addresses, private CaptureRepository $captures, private CaptureContent $content)
    {
    }

    /** @return array{Capture, MainText|null}|null the latest that is the page itself; the text is null where it is no page of text */
    public function latest(string $url): ?array
    {
        return $this->nearest($url, new \DateTimeImmutable('9999-01-01'));
    }

    /** @return array{Capture, MainText|null}|null the one nearest to that moment */
    public function nearest(string $url, \DateTimeImmutable $moment): ?array
    {
        // What follows from it is told to everybody: so is what it follows from.
        $viewer = Viewer::nobody();
        $address = $this->addresses->of($viewer, $url);
        foreach (null === $address ? [] : $this->captures->aliveAround($viewer, $address, $moment, self::TRIES) as $capture) {
            if (1 !== preg_match('#html#i', $capture->mime ?? 'html')) {
                return [$capture, null];
            }
            try {
                $signs = PageSigns::of($this->asSeen($capture));
            } catch (WarcError) {
                continue;
            }
            if (!$signs->isNothing()) {
                return [$capture, $signs->main];
            }
        }

        return null;
    }

    /** @throws WarcError */
    private function asSeen(Capture $capture): CheckResult
    {
        $url = Url::tryParse($capture->url) ?? Url::parse('http://nowhere.invalid/');

        return new CheckResult($url, $url, [], $capture->status, 'text/html', 'text/html; charset=utf-8', $this->content->markup($capture));
    }
}
