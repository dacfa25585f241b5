<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\FurtherFields;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Secrets;

/** How one page is to be kept. */
final readonly class CaptureOrder
{
    private const PHONE = 'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/%s Mobile Safari/537.36';

    /**
     * @param bool                  $rendered whether a browser loads it; else it is fetched with its requisites, and no script runs
     * @param bool                  $obey     whether what robots.txt says binds
     * @param bool                  $insecure whether a server whose certificate cannot be trusted is asked all the same
     * @param bool                  $packed   whether each record becomes a gzip member
     * @param bool                  $scripts  whether the page's scripts run
     * @param bool                  $phone    whether it is seen as on a telephone
     * @param bool                  $scroll   whether the page is gone through to its end
     * @param string|null           $language Accept-Language; null: the browser's own
     * @param string|null           $agent    User-Agent; null: the browser's own
     * @param array<string, string> $fields   of requests to the page's own origin, beside the usual ones; values are overwritten in what is kept
     * @param list<Cookie>          $cookies  of somebody's sign-in; their values are overwritten in what is kept
     * @param float                 $wait     seconds to wait after loading, whatever the network does
     * @param string                $part     which part, if only that is kept: a CSS selector, or words that stand in it
     */
    public function __construct(
        public bool $rendered = true,
        public Limits $limits = new Limits(),
        public bool $obey = false,
        public bool $insecure = false,
        public bool $packed = true,
        public bool $scripts = true,
        public bool $phone = false,
        public bool $scroll = true,
        public ?string $language = null,
        public ?string $agent = null,
        public array $fields = [],
        public array $cookies = [],
        public float $wait = 0.0,
        public Extent $extent = Extent::Whole,
        public string $part = '',
        /** Whether further fields go to every host that the page asks for something. */
        public bool $fieldsEverywhere = false,
    ) {
    }

    /** What is added to the requests of a capture of that page; null if nothing is. */
    public function further(Url $page): ?FurtherFields
    {
        return [] === $this->fields && !$this->isSecret() ? null : new FurtherFields($this->fields, $this->fieldsEverywhere ? null : $page, $this->isSecret());
    }

    /** What must not be kept; null if there is nothing of the kind. */
    public function secrets(): ?Secrets
    {
        return $this->isSecret() ? new Secrets($this->fields, $this->cookies) : null;
    }

    /** Width of the window, in pixels. */
    public function width(): int
    {
        return $this->phone ? 390 : 1280;
    }

    public function height(): int
    {
        return $this->phone ? 844 : 800;
    }

    /** @param string $browser what the browser calls itself */
    public function userAgent(string $browser): ?string
    {
        return $this->agent ?? ($this->phone ? \sprintf(self::PHONE, 1 === preg_match('#Chrome/([\d.]+)#', $browser, $m) ? $m[1] : '120.0.0.0') : null);
    }

    /** Whether something of a person goes out with the requests that must not be kept. */
    public function isSecret(): bool
    {
        return [] !== $this->cookies || [] !== array_filter(array_keys($this->fields), Secrets::isSecretField(...));
    }
}
