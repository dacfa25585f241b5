<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Network\CaptureOrder;
use Ypomna\App\Network\Extent;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\Limits;

/** How somebody wants a page to be kept, and how much of it. */
final readonly class PageWish
{
    /** What is remembered for the next time; cookies and parts never are. */
    private const REMEMBERED = ['how', 'phone', 'without_scripts', 'without_scrolling', 'extent', 'wait', 'language', 'agent'];
    private const LONGEST = 1_000;

    /**
     * @param string                $part   which part, if only that: a CSS selector, or words that stand in it
     * @param int                   $wait   seconds to wait after loading
     * @param array<string, string> $fields further ones of each request
     * @param string                $secret a cookies.txt file of somebody's sign-in
     */
    public function __construct(
        public CaptureMode $how = CaptureMode::Rendered,
        public bool $phone = false,
        public bool $withoutScripts = false,
        public bool $withoutScrolling = false,
        public Extent $extent = Extent::Whole,
        public string $part = '',
        public int $wait = 0,
        public string $language = '',
        public string $agent = '',
        public array $fields = [],
        #[\SensitiveParameter] public string $secret = '',
        /** Whether the further fields go to every host that the page asks for something; else to the page's own origin alone. */
        public bool $fieldsEverywhere = false,
    ) {
    }

    /** @param string|null $userinfo `name:password` that stood in the address: it goes out as a field (RFC 7617), and is forgotten as those are */
    public function signedIn(#[\SensitiveParameter] ?string $userinfo): self
    {
        return null === $userinfo ? $this : new self(
            $this->how, $this->phone, $this->withoutScripts, $this->withoutScrolling, $this->extent, $this->part, $this->wait, $this->language, $this->agent,
            $this->fields + ['Authorization' => 'Basic '.base64_encode($userinfo)], $this->secret, $this->fieldsEverywhere,
        );
    }

    /**
     * @param array<string, string> $form
     *
     * @throws InvalidRequest with what is wrong, and what to do
     */
    public static function ofForm(array $form): self
    {
        $text = static fn (string $name): string => mb_strcut(trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', mb_scrub($form[$name] ?? ''))), 0, self::LONGEST);
        $extent = Extent::tryFrom($form['extent'] ?? '') ?? Extent::Whole;
        if (Extent::Part === $extent && '' === $text('part')) {
            throw new InvalidRequest('Say which part of the page: words that stand in it, or a CSS selector.');
        }
        $how = Extent::Address === $extent || ('plain' === ($form['how'] ?? '') && Extent::Part !== $extent) ? CaptureMode::Plain : CaptureMode::Rendered;
        if (1 === preg_match('/\D/', $text('wait')) || (int) $text('wait') > 60) {
            throw new InvalidRequest('The time to wait is a number of seconds, 60 at most.');
        }
        if ('' !== $text('language') && 1 !== preg_match('/^[A-Za-z0-9*-]{1,35}(?:\s*;\s*q=[0-9.]+)?(?:\s*,\s*[A-Za-z0-9*-]{1,35}(?:\s*;\s*q=[0-9.]+)?)*$/D', $text('language'))) {
            throw new InvalidRequest('A language is written as in el, en;q=0.5 (RFC 9110, section 12.5.4).');
        }
        $secret = mb_strcut($form['cookies'] ?? '', 0, 262_144);
        try {
            Cookie::file($secret);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidRequest('The cookies cannot be read. '.$e->getMessage());
        }

        return new self($how, '1' === ($form['phone'] ?? ''), '1' === ($form['without_scripts'] ?? ''), '1' === ($form['without_scrolling'] ?? ''), $extent, Extent::Part === $extent ? $text('part') : '', (int) $text('wait'), $text('language'), $text('agent'), self::fields($form['fields'] ?? ''), trim($secret), '1' === ($form['fields_everywhere'] ?? ''));
    }

    /**
     * Lines as they stand in a request.
     *
     * @return array<string, string>
     *
     * @throws InvalidRequest
     */
    private static function fields(string $lines): array
    {
        $fields = [];
        foreach (explode("\n", str_replace("\r", "\n", mb_strcut($lines, 0, 16_384))) as $n => $line) {
            if ('' === trim($line)) {
                continue;
            }
            if (1 !== preg_match('/^\s*([!#$%&\'*+.^_`|~0-9A-Za-z-]{1,100})\s*:\s*([^\x00-\x1f\x7f]{0,4000})$/D', rtrim($line), $m)) {
                throw new InvalidRequest(\sprintf('Line %d of the request’s further fields is none: a name, a colon, and a value.', $n + 1));
            }
            if (\in_array(strtolower($m[1]), ['host', 'content-length', 'transfer-encoding', 'connection', 'upgrade', 'te', 'trailer'], true)) {
                throw new InvalidRequest(\sprintf('The field %s says how the request itself is made; it cannot be set.', $m[1]));
            }
            $fields[$m[1]] = trim($m[2]);
        }

        return $fields;
    }

    /**
     * What of a form is worth remembering for the next time.
     *
     * @param array<string, string> $form
     *
     * @return array<string, string>
     */
    public static function remembered(array $form): array
    {
        return array_filter(array_map(static fn (string $value): string => mb_strcut(mb_scrub($value), 0, self::LONGEST), array_intersect_key($form, array_flip(self::REMEMBERED))), static fn (string $value): bool => '' !== $value);
    }

    /**
     * As it is kept with the job.
     *
     * @return array<string, mixed>|null null if there is nothing unusual
     */
    public function options(): ?array
    {
        $options = array_filter(['extent' => Extent::Whole === $this->extent ? '' : $this->extent->value, 'part' => $this->part, 'wait' => $this->wait, 'language' => $this->language, 'agent' => $this->agent, 'scroll' => $this->withoutScrolling ? 'no' : '', 'fields' => $this->fieldsEverywhere ? 'everywhere' : ''], static fn (mixed $value): bool => !\in_array($value, ['', 0, []], true));

        return [] === $options ? null : $options;
    }

    /** What goes out with the requests and is forgotten when the job has ended: it may sign somebody in. */
    public function secrets(): ?string
    {
        return '' === $this->secret && [] === $this->fields ? null : json_encode(['cookies' => $this->secret, 'fields' => (object) $this->fields], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
    }

    public static function ofJob(CaptureJob $job): self
    {
        $secrets = (array) json_decode($job->secrets ?? '', true);
        $options = $job->options ?? [];
        $text = static fn (string $name): string => \is_string($options[$name] ?? null) ? $options[$name] : '';

        return new self(
            $job->how, $job->phone, $job->withoutScripts, 'no' === $text('scroll'), Extent::tryFrom($text('extent')) ?? Extent::Whole, $text('part'), \is_int($options['wait'] ?? null) ? $options['wait'] : 0, $text('language'), $text('agent'),
            array_filter(\is_array($secrets['fields'] ?? null) ? $secrets['fields'] : [], static fn (mixed $value, int|string $name): bool => \is_string($name) && \is_string($value), \ARRAY_FILTER_USE_BOTH), \is_string($secrets['cookies'] ?? null) ? $secrets['cookies'] : '', 'everywhere' === $text('fields'),
        );
    }

    public function order(Limits $limits, bool $obey): CaptureOrder
    {
        return new CaptureOrder(
            CaptureMode::Plain !== $this->how, $limits, $obey, scripts: !$this->withoutScripts, phone: $this->phone, scroll: !$this->withoutScrolling && Extent::Part !== $this->extent, language: '' === $this->language ? null : $this->language, agent: '' === $this->agent ? null : $this->agent,
            fields: $this->fields, cookies: '' === $this->secret ? [] : Cookie::file($this->secret), wait: (float) $this->wait, extent: $this->extent, part: $this->part, fieldsEverywhere: $this->fieldsEverywhere,
        );
    }
}
