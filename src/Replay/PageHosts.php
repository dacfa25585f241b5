<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;

/**
 * Host names of archived pages: each origin of each capture has one of its own, so that paths, relative references and
 * the browser's walls between origins are as they were: `http://lantern.test/a` of a capture stands at
 * `http://http.lantern.test.7k3….localhost/a`. The label `7k3…` is a reader's right to that capture ({@see ReadingRights}); a mark
 * behind it says how it is read.
 */
final readonly class PageHosts
{
    /** A code, or a right: never anything that is also the end of a host's name. */
    private const LABEL = '[2-9a-hjkmnp-z]{12}|[a-z2-7]{26}';

    public function __construct(private string $suffix)
    {
    }

    /**
     * @param string $label of the right to read it
     * @param bool $only whether nothing from other captures stands in for what is missing
     */
    public function hostOf(Url $url, string $label, ReplayMode $mode, bool $only = false): string
    {
        $host = (string) $url->host;
        if (str_starts_with($host, '[')) {
            $host = 'v6-'.strtr(trim($host, '[]'), ':', '-');
        }

        $origin = $url->scheme.(null === $url->port ? '' : '-'.$url->port).'.'.rtrim($host, '.');

        return $origin.'.'.$label.self::mark($mode, $only).'.'.$this->suffix;
    }

    /** What stands behind the label. */
    public static function mark(ReplayMode $mode, bool $only): string
    {
        $mark = (ReplayMode::Still === $mode ? 's' : '').($only ? 'o' : '');

        return '' === $mark ? '' : '-'.$mark;
    }

    public function suffix(): string
    {
        return $this->suffix;
    }

    /**
     * Source expression for every archived page.
     *
     * @param string $port with its colon, or ''
     */
    public function everyPage(string $scheme, string $port): string
    {
        return $scheme.'://*.'.$this->suffix.$port;
    }

    /** Whether a host name is one of an archived page, or claims to be. */
    public function isPageHost(string $host): bool
    {
        return str_ends_with(strtolower($host), '.'.$this->suffix);
    }

    /**
     * @param string $host without port
     * @param string $target path and query as they were sent
     */
    public function read(string $host, string $target): ?PageRequest
    {
        $pattern = '/^(https?|wss?)(?:-(\d{1,5}))?\.(.+)\.('.self::LABEL.')(-(?:so?|o))?\.'.preg_quote($this->suffix, '/').'$/D';
        if (1 !== preg_match($pattern, strtolower($host), $m, \PREG_UNMATCHED_AS_NULL)) {
            return null;
        }
        $name = (string) $m[3];
        if (str_starts_with($name, 'v6-')) {
            $name = '['.strtr(substr($name, 3), '-', ':').']';
        }
        try {
            $origin = $m[1].'://'.$name.(null === $m[2] ? '' : ':'.$m[2]);

            return new PageRequest(
                Url::parse($origin.$target),
                $origin.$target,
                (string) $m[4],
                str_contains((string) $m[5], 's') ? ReplayMode::Still : ReplayMode::Alive,
                str_contains((string) $m[5], 'o'),
            );
        } catch (InvalidAddress) {
            return null;
        }
    }
}
