<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

/**
 * The stand-in web's certificate authority: made once, kept in a folder, trusted by whoever is told to.
 */
final readonly class Authority
{
    private const DAYS = 3650;

    public function __construct(private string $folder)
    {
    }

    /** Path of the authority's own certificate, in PEM. */
    public function certificate(): string
    {
        return $this->folder.'/authority.pem';
    }

    /** Path of the one that has expired, beside another one. */
    public static function lapsed(string $path): string
    {
        return substr($path, 0, -4).'-lapsed.pem';
    }

    /**
     * Path of a PEM file with a key and a certificate for these names; beside it lies one for the same key that has expired.
     *
     * @param list<string> $hosts
     */
    public function issue(array $hosts): string
    {
        $path = $this->folder.'/hosts-'.substr(hash('sha256', implode(',', $hosts)), 0, 12).'.pem';
        if (is_file($path) && is_file(self::lapsed($path)) && is_file($this->certificate())) {
            return $path;
        }
        if (!is_dir($this->folder) && !@mkdir($this->folder, 0o755, true) && !is_dir($this->folder)) {
            throw new \RuntimeException(\sprintf('The folder “%s” cannot be made.', $this->folder));
        }
        $config = $this->folder.'/openssl.cnf';
        file_put_contents($config, "[req]\ndistinguished_name=dn\n[dn]\n[authority]\nbasicConstraints=critical,"
            ."CA:TRUE\nkeyUsage=critical,keyCertSign,cRLSign\n[host]\nbasicConstraints=CA:FALSE\nsubjectAltName="
            .implode(',', array_map(static fn (string $host): string => 'DNS:'.$host, $hosts))."\n");
        $options = ['config' => $config, 'digest_alg' => 'sha256', 'private_key_type' => \OPENSSL_KEYTYPE_RSA, 'private_key_bits' => 2048];
        $authorityKey = openssl_pkey_new($options);
        $hostKey = openssl_pkey_new($options);
        \assert(false !== $authorityKey && false !== $hostKey);
        [$authorityKeyOut, $hostKeyOut] = [$authorityKey, $hostKey];
        $request = openssl_csr_new(['commonName' => 'Stand-in Authority'], $authorityKey, $options);
        \assert($request instanceof \OpenSSLCertificateSigningRequest);
        $authority = openssl_csr_sign(
            $request, null, $authorityKeyOut, self::DAYS, ['x509_extensions' => 'authority'] + $options, random_int(1, \PHP_INT_MAX),
        );
        $request = openssl_csr_new(['commonName' => $hosts[0]], $hostKey, $options);
        \assert($request instanceof \OpenSSLCertificateSigningRequest && false !== $authority);
        $certificate = openssl_csr_sign(
            $request, $authority, $authorityKeyOut, self::DAYS, ['x509_extensions' => 'host'] + $options, random_int(1, \PHP_INT_MAX),
        );
        \assert(false !== $certificate);
        // Valid for no day: in the next second it has been.
        $lapsed = openssl_csr_sign(
            $request, $authority, $authorityKeyOut, 0, ['x509_extensions' => 'host'] + $options, random_int(1, \PHP_INT_MAX),
        );
        \assert(false !== $lapsed);
        openssl_pkey_export($hostKeyOut, $key, null, $options);
        foreach ([$path => $certificate, self::lapsed($path) => $lapsed] as $file => $one) {
            openssl_x509_export($one, $pem);
            \assert(\is_string($pem) && \is_string($key));
            file_put_contents($file, $pem.$key);
        }
        openssl_x509_export_to_file($authority, $this->certificate());

        return $path;
    }
}
