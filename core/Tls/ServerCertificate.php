<?php

declare(strict_types=1);

namespace Ypomna\Core\Tls;

/** What a server's certificate says (RFC 5280): for which names it stands, and from when to when. */
final readonly class ServerCertificate
{
    private const MAX_BYTES = 1_048_576;

    /**
     * @param list<string> $names as they stand in it (`dNSName` of `subjectAltName`), in lower case
     * @param list<string> $addresses of machines (`iPAddress`), as bytes
     * @param string $pem itself
     */
    private function __construct(
        public array $names,
        private array $addresses,
        public \DateTimeImmutable $from,
        public \DateTimeImmutable $until,
        public string $pem,
    ) {
    }

    /**
     * The first certificate of a text in PEM (RFC 7468), which is the server's own; those of authorities follow it (RFC 8446, clause
     * 4.4.2).
     *
     * @throws UnusableCertificate
     */
    public static function parse(string $pem): self
    {
        if (\strlen($pem) > self::MAX_BYTES
            || 1 !== preg_match('/-----BEGIN CERTIFICATE-----[A-Za-z0-9+\/=\s]+-----END CERTIFICATE-----/', $pem, $m)) {
            throw new UnusableCertificate('it holds no certificate in PEM form');
        }
        $says = @openssl_x509_parse($m[0]);
        if (!\is_array($says) || !\is_int($says['validFrom_time_t'] ?? null) || !\is_int($says['validTo_time_t'] ?? null)) {
            throw new UnusableCertificate('its first certificate cannot be read');
        }
        $extensions = \is_array($says['extensions'] ?? null) ? $says['extensions'] : [];
        $alternatives = $extensions['subjectAltName'] ?? '';
        preg_match_all('/(?:^|, )(DNS|IP Address):([^,\s]+)/', \is_string($alternatives) ? $alternatives : '', $found, \PREG_SET_ORDER);
        $names = $addresses = [];
        foreach ($found as [, $kind, $value]) {
            if ('DNS' === $kind) {
                $names[] = strtolower($value);
            } else {
                $addresses[] = (string) @inet_pton($value);
            }
        }

        return new self(
            $names,
            $addresses,
            new \DateTimeImmutable('@'.$says['validFrom_time_t']),
            new \DateTimeImmutable('@'.$says['validTo_time_t']),
            $m[0],
        );
    }

    /**
     * Whether it stands for a host (RFC 9525, clause 6.3): a star is the whole first label, and stands for one label and no more.
     */
    public function covers(string $host): bool
    {
        $host = strtolower(rtrim($host, '.'));
        $address = @inet_pton(trim($host, '[]'));
        if (false !== $address) {
            return \in_array($address, $this->addresses, true);
        }
        $dot = strpos($host, '.');
        $wild = false === $dot || 0 === $dot ? null : '*'.substr($host, $dot);
        foreach ($this->names as $name) {
            if ($name === $host || (null !== $wild && $name === $wild && substr_count($name, '.') >= 2)) {
                return true;
            }
        }

        return false;
    }

    /** Whether it stands for every host one label below a domain. */
    public function coversBelow(string $domain): bool
    {
        return $this->covers('a-label-of-its-own.'.$domain) && \in_array('*.'.strtolower(rtrim($domain, '.')), $this->names, true);
    }

    /** Whether a private key in PEM is this certificate's. */
    public function isOf(#[\SensitiveParameter] string $key): bool
    {
        $private = @openssl_pkey_get_private($key);

        return false !== $private && @openssl_x509_check_private_key($this->pem, $private);
    }
}
