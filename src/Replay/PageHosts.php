<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\Core\Account\Base32;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

/**
 * Host names of archived pages: each origin of each capture has one of its own, so that paths, relative references and the browser's
 * walls between origins are as they were. Each is one label below one domain, as a wildcard certificate covers it (RFC 9525, clause
 * 6.3), and no longer than a label may be (RFC 1035, clause 2.3.4): `http://lantern.test/a` of a capture stands at
 * `http://7k3…ah-lantern-test.localhost/a`.
 *
 * What is in the label, in this order: a reader's right to that capture ({@see ReadingRights}); a letter for how it is read; a letter for
 * the scheme; a hyphen; the name, in which a dot is a hyphen, a hyphen two, and a port one more part at the end. What does not fit, or
 * could not be read back, is a hyphen and a mark instead ({@see LongHosts}).
 */
final readonly class PageHosts
{
    /**
     * The host at which addresses are led on whose name is long and not yet known to have a mark: scripts put such together, and cannot
     * compute one. What follows is the path `/SCHEME/NAME…`.
     */
    public const THROUGH = '-way';

    /** Octets of a label (RFC 1035, clause 2.3.4). */
    private const LONGEST = 63;
    /** A code, or a right: neither has a hyphen. */
    private const RIGHT = '[2-9a-hjkmnp-z]{12}|[a-z2-7]{26}';
    private const SCHEMES = ['http' => 'h', 'https' => 't', 'ws' => 'w', 'wss' => 'v'];
    private const WAYS = [['a', 's'], ['o', 'p']];
    private const MARK_BYTES = 16;

    public function __construct(private string $domain, private LongHosts $long = new HostsInMemory())
    {
    }

    /**
     * Where addresses of an origin are answered, for now: {@see keep} makes it so. Null where one answer leads to too many long names.
     *
     * @param string $label of the right to read it
     * @param bool $only whether nothing from other captures stands in for what is missing
     */
    public function hostOf(Url $url, string $label, ReplayMode $mode, bool $only = false): ?string
    {
        $part = $this->partOf($url, $label);

        return null === $part ? null : self::begin($label, $mode, $only).self::SCHEMES[$url->scheme].'-'.$part.'.'.$this->domain;
    }

    /** Where it is led on from, if its own host cannot be named. */
    public function throughHost(Url $url, string $label, ReplayMode $mode, bool $only = false): string
    {
        return self::begin($label, $mode, $only).self::SCHEMES[$url->scheme].'-'.self::THROUGH.'.'.$this->domain;
    }

    /** Makes every host that was named answer. */
    public function keep(): void
    {
        $this->long->keep();
    }

    /**
     * What our script in a page needs to name hosts as this does.
     *
     * @return array{prefix: string, domain: string, name: string, part: string} what every host of this reading begins and ends with; the
     *     name of the document's host, and what stands for it
     */
    public function facts(Url $url, string $label, ReplayMode $mode, bool $only): array
    {
        return [
            'prefix' => self::begin($label, $mode, $only), 'domain' => '.'.$this->domain,
            'name' => self::nameOf($url), 'part' => (string) $this->partOf($url, $label),
        ];
    }

    /**
     * Source expression for every archived page.
     *
     * @param string $port with its colon, or ''
     */
    public function everyPage(string $scheme, string $port): string
    {
        return $scheme.'://*.'.$this->domain.$port;
    }

    /** Whether a host name is one of an archived page, or claims to be. */
    public function isPageHost(string $host): bool
    {
        return str_ends_with(strtolower($host), '.'.$this->domain);
    }

    /** The right that a host is named after; null if it is no host of an archived page. */
    public function label(string $host): ?string
    {
        return $this->parts($host)[0] ?? null;
    }

    /**
     * @param string $host without port
     * @param string $target path and query as they were sent
     */
    public function read(string $host, string $target): ?PageRequest
    {
        $parts = $this->parts($host);
        if (null === $parts) {
            return null;
        }
        [$label, $way, $letter, $part] = $parts;
        $scheme = (string) array_search($letter, self::SCHEMES, true);
        $isThrough = self::THROUGH === $part;
        $isLong = false;
        if ($isThrough) {
            if (1 !== preg_match('~^/('.implode('|', array_keys(self::SCHEMES)).')/([^/?#@\x00-\x20]{1,300})([/?].*)$~Ds', $target, $at)) {
                return null;
            }
            [, $scheme, $name, $target] = $at;
        } elseif (str_starts_with($part, '-')) {
            $isLong = true;
            $name = $this->long->name(substr($part, 1));
            $name = null === $name || self::digest($label, $name) !== substr($part, 1) ? null : $name;
        } else {
            $name = self::written($part);
        }
        try {
            $url = null === $name ? null : Url::parse($scheme.'://'.$name.$target);
        } catch (InvalidAddress) {
            return null;
        }

        return null === $url ? null : new PageRequest(
            $url, $scheme.'://'.$name.$target, $label, \in_array($way, ['s', 'p'], true) ? ReplayMode::Still : ReplayMode::Alive,
            \in_array($way, ['o', 'p'], true), $isThrough, $isLong,
        );
    }

    /** What stands for a long name where it is read by that right: 26 letters and figures. */
    public static function digest(string $label, string $name): string
    {
        return strtolower(Base32::encode(substr(hash('sha256', $label.' '.$name, true), 0, self::MARK_BYTES)));
    }

    /** @return array{string, string, string, string}|null label, how it is read, scheme, and what stands for the name */
    private function parts(string $host): ?array
    {
        $pattern = '/^('.self::RIGHT.')([asop])([htwv])-([a-z0-9_-]+)\.'.preg_quote($this->domain, '/').'$/D';

        return \strlen($host) > 253 || 1 !== preg_match($pattern, strtolower($host), $m) ? null : [$m[1], $m[2], $m[3], $m[4]];
    }

    private static function begin(string $label, ReplayMode $mode, bool $only): string
    {
        return $label.self::WAYS[(int) $only][(int) (ReplayMode::Still === $mode)];
    }

    private static function nameOf(Url $url): string
    {
        return rtrim((string) $url->host, '.').(null === $url->port ? '' : ':'.$url->port);
    }

    private function partOf(Url $url, string $label): ?string
    {
        $name = self::nameOf($url);
        $part = strtr(str_replace('-', '--', $name), '.:', '--');
        if (\strlen($part) <= self::LONGEST - \strlen($label) - 3 && 1 === preg_match('/^[a-z0-9_][a-z0-9_-]*$/D', $part)
            && self::written($part) === $name) {
            return $part;
        }
        $mark = $this->long->mark($label, $name);

        return null === $mark ? null : '-'.$mark;
    }

    /** The name that was written as part of a label. */
    private static function written(string $part): string
    {
        $name = (string) preg_replace_callback('/--|-/', static fn (array $m): string => '-' === $m[0] ? '.' : '-', $part);

        // A name ends in a figure if it is an address of four numbers; any other number at its end is a port.
        return 1 === preg_match('/^\d+(?:\.\d+){3}$/D', $name) ? $name : (string) preg_replace('/\.(\d{1,5})$/D', ':$1', $name);
    }
}
