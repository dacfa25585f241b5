<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * A web address in its parts, read as browsers read it (WHATWG URL Standard, section 4.4), so that what
 * the archive looks up is what the browser asked for.
 */
final readonly class Url implements \Stringable
{
    public const DEFAULT_PORTS = ['http' => 80, 'https' => 443, 'ws' => 80, 'wss' => 443, 'ftp' => 21, 'file' => null];

    private const USERINFO = '\x00-\x20"#<>?`{}\/:;=@\[\\\\\]^|\x7f-\xff';
    private const MAX_LENGTH = 2_097_152;

    /**
     * @param string $scheme lower case, without colon
     * @param string|null $host ASCII, lower case; null where the scheme has no host (`mailto:`)
     * @param int|null $port null if it is the scheme's own
     * @param string $path percent-coded; begins with `/` where there is a host
     * @param string|null $query without `?`
     * @param string|null $fragment without `#`
     */
    private function __construct(
        public string $scheme,
        public string $userinfo,
        public ?string $host,
        public ?int $port,
        public string $path,
        public ?string $query,
        public ?string $fragment,
    ) {
    }

    /**
     * @throws InvalidAddress
     */
    public static function parse(string $given, ?self $base = null): self
    {
        if (\strlen($given) > self::MAX_LENGTH) {
            throw InvalidAddress::because($given, 'it is longer than 2 MiB');
        }
        $text = str_replace(["\t", "\n", "\r"], '', trim($given, "\x00..\x20"));
        [$text, $fragment] = self::cut($text, '#');
        $fragment = null === $fragment ? null : self::encode($fragment, '\x00-\x20"<>`\x7f-\xff');
        if (1 === preg_match('/^([a-z][a-z0-9+.-]*):(.*)$/is', $text, $m)) {
            $scheme = strtolower($m[1]);
            $special = \array_key_exists($scheme, self::DEFAULT_PORTS);
            if (!($special && $base?->scheme === $scheme && 1 !== preg_match('~^[/\\\\]{2}~', $m[2]))) {
                return self::absolute($scheme, $m[2], $special, $fragment, $given);
            }
            $text = $m[2];
        }
        if (null === $base) {
            throw InvalidAddress::because($given, 'it does not begin with http:// or another scheme');
        }

        return self::relative($text, $base, $fragment, $given);
    }

    public static function tryParse(string $given, ?self $base = null): ?self
    {
        try {
            return self::parse($given, $base);
        } catch (InvalidAddress) {
            return null;
        }
    }

    /**
     * An address that stands by itself, in a list or on the command line: with its host behind two slashes (RFC 3986, section 3), where
     * browsers take any number of them in a link.
     *
     * @throws InvalidAddress
     */
    public static function written(string $given): self
    {
        $url = self::parse($given);
        if (null !== $url->host && 'file' !== $url->scheme && 1 !== preg_match('~^[^:]+://[^/\\\\]~', trim($given, "\x00..\x20"))) {
            throw InvalidAddress::because($given, 'the host name is missing');
        }

        return $url;
    }

    /**
     * What a person typed or pasted into a box: the scheme may be missing (`http` is taken then). User information stays behind: it
     * signs a person in, and is no part of an address that is kept or shown ({@see typedUserinfo()}).
     *
     * @throws InvalidAddress
     */
    public static function typed(string $given): self
    {
        $text = trim($given, "\x00..\x20<>");
        if ('' === $text) {
            throw InvalidAddress::because($given, 'nothing was entered');
        }
        $hasScheme = 1 === preg_match('~^[a-z][a-z0-9+.-]*:(?!\d{1,5}(?:[/?#]|$))~i', $text);
        $url = self::parse($hasScheme ? $text : 'http://'.ltrim($text, '/'));
        if (!\in_array($url->scheme, ['http', 'https'], true)) {
            throw InvalidAddress::because($given, 'only http and https addresses can be kept');
        }
        if (!$hasScheme && 1 !== preg_match('/\.|^\[|^localhost$/', (string) $url->host)) {
            throw InvalidAddress::because($given, 'it has no host name with a dot in it');
        }

        return $url->withoutUserinfo();
    }

    /** User information of what a person typed, percent-coding undone: `name:password`; null if there is none. */
    public static function typedUserinfo(string $given): ?string
    {
        $text = trim($given, "\x00..\x20<>");
        $url = self::tryParse($text) ?? self::tryParse('http://'.ltrim($text, '/'));

        return null === $url || !$url->isWeb() || '' === trim($url->userinfo, ':')
            ? null
            : implode(':', array_map(rawurldecode(...), explode(':', $url->userinfo, 2)));
    }

    public function withoutUserinfo(): self
    {
        return '' === $this->userinfo
            ? $this
            : new self($this->scheme, '', $this->host, $this->port, $this->path, $this->query, $this->fragment);
    }

    public function isWeb(): bool
    {
        return 'http' === $this->scheme || 'https' === $this->scheme;
    }

    /** The port a connection goes to; null where the scheme has none. */
    public function effectivePort(): ?int
    {
        return $this->port ?? self::DEFAULT_PORTS[$this->scheme] ?? null;
    }

    /** `host` or `host:port`, as it stands in a Host field. */
    public function authority(): string
    {
        return $this->host.(null === $this->port ? '' : ':'.$this->port);
    }

    /** `scheme://host[:port]`, RFC 6454 section 6.2. */
    public function origin(): string
    {
        return $this->scheme.'://'.$this->authority();
    }

    /** Path and query, as it stands in a request line in origin form (RFC 9112 section 3.2.1). */
    public function target(): string
    {
        return $this->path.(null === $this->query ? '' : '?'.$this->query);
    }

    public function withoutFragment(): self
    {
        return new self($this->scheme, $this->userinfo, $this->host, $this->port, $this->path, $this->query, null);
    }

    public function withScheme(string $scheme): self
    {
        return new self($scheme, $this->userinfo, $this->host, $this->port, $this->path, $this->query, $this->fragment);
    }

    public function __toString(): string
    {
        return $this->scheme.':'
            .(null === $this->host ? '' : '//'.('' === $this->userinfo ? '' : $this->userinfo.'@').$this->authority())
            .$this->target()
            .(null === $this->fragment ? '' : '#'.$this->fragment);
    }

    private static function absolute(string $scheme, string $rest, bool $special, ?string $fragment, string $given): self
    {
        [$rest, $query] = self::cut($rest, '?');
        $query = self::encodeQuery($query, $special);
        if ($special) {
            $rest = strtr($rest, '\\', '/');
            if ('file' === $scheme) {
                [$authority, $path] = str_starts_with($rest, '//') ? self::authorityAndPath(substr($rest, 2)) : ['', $rest];

                return new self($scheme, '', $authority, null, self::path($path), $query, $fragment);
            }
            $rest = '//'.ltrim($rest, '/');
        }
        if (!str_starts_with($rest, '//')) {
            $path = str_starts_with($rest, '/') ? self::path($rest) : self::encode($rest, '\x00-\x1f\x7f-\xff');

            return new self($scheme, '', null, null, $path, $query, $fragment);
        }
        [$authority, $path] = self::authorityAndPath(substr($rest, 2));
        [$userinfo, $host, $port] = self::authorityParts($authority, $scheme, $given);

        return new self($scheme, $userinfo, $host, $port, self::path($path), $query, $fragment);
    }

    private static function relative(string $text, self $base, ?string $fragment, string $given): self
    {
        $special = \array_key_exists($base->scheme, self::DEFAULT_PORTS);
        if (null === $base->host && !str_starts_with($base->path, '/')) {
            if ('' === $text && null !== $fragment) {
                return new self($base->scheme, '', null, null, $base->path, $base->query, $fragment);
            }
            throw InvalidAddress::because($given, 'it is relative, and what it is relative to has no path');
        }
        [$path, $query] = self::cut($text, '?');
        $path = $special ? strtr($path, '\\', '/') : $path;
        if (str_starts_with($path, '//')) {
            return self::absolute($base->scheme, $text, $special, $fragment, $given);
        }
        $query = self::encodeQuery($query, $special);
        if ('' === $path) {
            return new self($base->scheme, $base->userinfo, $base->host, $base->port, $base->path, $query ?? $base->query, $fragment);
        }
        if (!str_starts_with($path, '/')) {
            $path = substr($base->path, 0, (int) strrpos($base->path, '/') + 1).$path;
        }

        return new self($base->scheme, $base->userinfo, $base->host, $base->port, self::path($path), $query, $fragment);
    }

    /**
     * @return array{string, string}
     */
    private static function authorityAndPath(string $rest): array
    {
        $slash = strpos($rest, '/');

        return false === $slash ? [$rest, ''] : [substr($rest, 0, $slash), substr($rest, $slash)];
    }

    /**
     * @return array{string, string, int|null} user information, host, port
     */
    private static function authorityParts(string $authority, string $scheme, string $given): array
    {
        $at = strrpos($authority, '@');
        [$name, $password] = false === $at ? ['', null] : self::cut(substr($authority, 0, $at), ':');
        [$name, $password] = [self::encode($name, self::USERINFO), self::encode((string) $password, self::USERINFO)];
        $userinfo = '' === $password ? $name : $name.':'.$password;
        $hostPort = false === $at ? $authority : substr($authority, $at + 1);
        if (1 !== preg_match('/^(\[[^\]]*\]|[^:]*)(?::(\d*))?$/D', $hostPort, $m)) {
            throw InvalidAddress::because($given, 'host and port cannot be told apart');
        }
        $digits = ltrim($m[2] ?? '', '0');
        $port = '' === ($m[2] ?? '') ? null : (int) $digits;
        if (null !== $port && ($port > 65535 || \strlen($digits) > 5)) {
            throw InvalidAddress::because($given, 'the port is larger than 65535');
        }

        return [$userinfo, Host::parse($m[1]), $port === (self::DEFAULT_PORTS[$scheme] ?? null) ? null : $port];
    }

    /** Dot segments removed (RFC 3986 section 5.2.4), unsafe bytes percent-coded. */
    private static function path(string $path): string
    {
        $out = [];
        $segments = explode('/', str_starts_with($path, '/') ? substr($path, 1) : $path);
        $last = array_key_last($segments);
        foreach ($segments as $i => $segment) {
            $dots = str_ireplace('%2e', '.', $segment);
            if ('..' === $dots) {
                array_pop($out);
            }
            if ('..' !== $dots && '.' !== $dots) {
                $out[] = $segment;
            } elseif ($i === $last) {
                $out[] = '';
            }
        }

        return self::encode('/'.implode('/', $out), '\x00-\x20"#<>?^`{}\x7f-\xff');
    }

    private static function encodeQuery(?string $query, bool $special): ?string
    {
        return null === $query ? null : self::encode($query, '\x00-\x20"#<>\x7f-\xff'.($special ? "'" : ''));
    }

    /** @param string $set the bytes to percent-code, as the inside of a character class */
    private static function encode(string $text, string $set): string
    {
        return (string) preg_replace_callback(
            '/['.$set.']/',
            static fn (array $m): string => \sprintf('%%%02X', \ord($m[0])),
            $text,
        );
    }

    /**
     * @return array{string, string|null} what stands before the first mark, and what after it
     */
    private static function cut(string $text, string $mark): array
    {
        $at = strpos($text, $mark);

        return false === $at ? [$text, null] : [substr($text, 0, $at), substr($text, $at + 1)];
    }
}
