<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Where readers reach this installation, as its settings say (`PUBLIC_URL`): a scheme, a name and a port. */
final readonly class PublicUrl
{
    /** A pattern of host names in small letters (RFC 1123, clause 2.1). */
    public const NAME = self::LABEL.'(?:\.'.self::LABEL.')*';
    private const LABEL = '[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?';

    public string $scheme;
    /** In lower case. */
    public string $host;
    public int $port;

    /** @throws \InvalidArgumentException with a sentence that says what is wrong */
    public function __construct(string $setting)
    {
        $parts = parse_url($setting);
        $scheme = strtolower(\is_array($parts) ? $parts['scheme'] ?? '' : '');
        $host = strtolower(\is_array($parts) ? $parts['host'] ?? '' : '');
        $isName = 1 === preg_match('/^(?:'.self::NAME.'|\[[0-9a-f:.]+\])$/D', $host);
        if (!\is_array($parts) || !\in_array($scheme, ['http', 'https'], true) || !$isName || \strlen($host) > 253
            || 0 === ($parts['port'] ?? 1)) {
            throw new \InvalidArgumentException(\sprintf(
                'PUBLIC_URL is “%s”; it has to be a scheme and a name, such as https://ypomna.example (other letters than a to z in their'
                    .' ASCII form).', $setting,
            ));
        }
        $isMore = isset($parts['user']) || isset($parts['query']) || isset($parts['fragment']);
        if ($isMore || !\in_array($parts['path'] ?? '/', ['', '/'], true)) {
            throw new \InvalidArgumentException(\sprintf(
                'PUBLIC_URL is “%s”; it may have no path: the application needs a host name of its own.', $setting,
            ));
        }
        [$this->scheme, $this->host, $this->port] = [$scheme, $host, $parts['port'] ?? ('https' === $scheme ? 443 : 80)];
    }

    public function isTls(): bool
    {
        return 'https' === $this->scheme;
    }

    /** With its colon; '' if it is the one that is taken without being said. */
    public function portPart(): string
    {
        return $this->port === ($this->isTls() ? 443 : 80) ? '' : ':'.$this->port;
    }

    /** `scheme://host[:port]`. */
    public function origin(): string
    {
        return $this->scheme.'://'.$this->host.$this->portPart();
    }
}
