<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\FurtherFields;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Secrets;

/** How one page is to be captured, and how much of it: the same from form, command, job and interface for programs down to the browser. */
final readonly class CaptureOptions
{
    private const PHONE = 'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/%s Mobile Safari/537.36';

    /**
     * @param bool $rendered whether a browser loads it; else it is fetched with its requisites, and no script runs
     * @param Limits $limits of time and bytes
     * @param bool $obey whether what robots.txt says binds
     * @param bool $insecure whether a server whose certificate cannot be trusted is asked all the same
     * @param bool $packed whether each record becomes a gzip member
     * @param bool $scripts whether the page's scripts run
     * @param bool $phone whether it is seen as on a telephone
     * @param bool $scroll whether the page is gone through to its end
     * @param string|null $language Accept-Language; null: the browser's own
     * @param string|null $agent User-Agent; null: the browser's own
     * @param array<string, string> $fields of requests to the page's own origin, beside the usual ones; values are overwritten in what is
     *     kept
     * @param list<Cookie> $cookies of somebody's sign-in; their values are overwritten in what is kept
     * @param float $wait seconds to wait after loading, whatever the network does
     * @param string $part which part, if only that is kept: a CSS selector, or words that stand in it
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
        return [] === $this->fields && !$this->isSecret()
            ? null
            : new FurtherFields($this->fields, $this->fieldsEverywhere ? null : $page, $this->isSecret());
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
        return $this->agent
            ?? ($this->phone ? \sprintf(self::PHONE, 1 === preg_match('#Chrome/([\d.]+)#', $browser, $m) ? $m[1] : '120.0.0.0') : null);
    }

    /** Whether something of a person goes out with the requests that must not be kept. */
    public function isSecret(): bool
    {
        return [] !== $this->cookies || [] !== array_filter(array_keys($this->fields), Secrets::isSecretField(...));
    }

    /**
     * @param string|null $userinfo `name:password` that stood in the address: it goes out as a field (RFC 7617), and is forgotten as those
     *     are
     */
    public function signedIn(#[\SensitiveParameter] ?string $userinfo): self
    {
        return null === $userinfo
            ? $this
            : $this->changed($this->limits, $this->obey, $this->fields + ['Authorization' => 'Basic '.base64_encode($userinfo)]);
    }

    /** @param bool $obey whether what robots.txt says binds */
    public function within(Limits $limits, bool $obey): self
    {
        return $this->changed($limits, $obey, $this->fields);
    }

    /**
     * What is unusual, without what may sign somebody in, nor limits and robots rules.
     *
     * @return array<string, bool|float|string> of {@see ofArray()}
     */
    public function toArray(): array
    {
        $values = [
            'rendered' => $this->rendered, 'scripts' => $this->scripts, 'phone' => $this->phone, 'scroll' => $this->scroll,
            'language' => $this->language, 'agent' => $this->agent,
            'wait' => $this->wait, 'extent' => $this->extent->value, 'part' => $this->part, 'fieldsEverywhere' => $this->fieldsEverywhere,
        ];
        $usual = [
            'rendered' => true, 'scripts' => true, 'phone' => false, 'scroll' => true, 'language' => null, 'agent' => null, 'wait' => 0.0,
            'extent' => Extent::Whole->value, 'part' => '', 'fieldsEverywhere' => false,
        ];

        return array_filter(
            $values,
            static fn (bool|float|string|null $value, string $name): bool => $value !== $usual[$name] && null !== $value,
            \ARRAY_FILTER_USE_BOTH,
        );
    }

    /** What goes out with the requests and may sign somebody in, as text; null if there is nothing of the kind. */
    public function secretsToText(): ?string
    {
        if ([] === $this->cookies && [] === $this->fields) {
            return null;
        }
        $cookies = implode("\n", array_map(static fn (Cookie $cookie): string => $cookie->line(), $this->cookies));

        return json_encode(
            ['cookies' => $cookies, 'fields' => (object) $this->fields], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    /**
     * @param array<mixed> $values of {@see toArray()}; what is not there, or cannot be, is as usual
     * @param string|null $secrets of {@see secretsToText()}
     */
    public static function ofArray(array $values, #[\SensitiveParameter] ?string $secrets = null): self
    {
        $is = static fn (string $name, bool $usual): bool => \is_bool($values[$name] ?? null) ? $values[$name] : $usual;
        $text = static fn (string $name): ?string => \is_string($values[$name] ?? null) && '' !== $values[$name] ? $values[$name] : null;
        $wait = $values['wait'] ?? 0;
        $said = (array) json_decode($secrets ?? '', true);
        $fields = [];
        foreach (\is_array($said['fields'] ?? null) ? $said['fields'] : [] as $name => $value) {
            if (\is_string($name) && \is_string($value)) {
                $fields[$name] = $value;
            }
        }

        return new self(
            rendered: $is('rendered', true), scripts: $is('scripts', true), phone: $is('phone', false), scroll: $is('scroll', true),
            language: $text('language'), agent: $text('agent'), fields: $fields,
            cookies: \is_string($said['cookies'] ?? null) ? Cookie::file($said['cookies']) : [],
            wait: \is_int($wait) || \is_float($wait) ? max(0.0, (float) $wait) : 0.0,
            extent: Extent::tryFrom($text('extent') ?? '') ?? Extent::Whole,
            part: $text('part') ?? '', fieldsEverywhere: $is('fieldsEverywhere', false),
        );
    }

    /** @param array<string, string> $fields */
    private function changed(Limits $limits, bool $obey, array $fields): self
    {
        return new self(
            $this->rendered, $limits, $obey, $this->insecure, $this->packed, $this->scripts, $this->phone, $this->scroll, $this->language,
            $this->agent,
            $fields, $this->cookies, $this->wait, $this->extent, $this->part, $this->fieldsEverywhere,
        );
    }
}
