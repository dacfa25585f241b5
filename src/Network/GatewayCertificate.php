<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

/**
 * The certificate that the gateway shows the capturing browser, which accepts any: it only has to be there. The real
 * servers' certificates are checked by the gateway itself.
 */
final readonly class GatewayCertificate
{
    public function __construct(private string $folder)
    {
    }

    /** Path of a PEM file with key and certificate; made at the first call. */
    public function path(): string
    {
        $path = $this->folder.'/gateway.pem';
        if (is_file($path)) {
            return $path;
        }
        $options = ['digest_alg' => 'sha256', 'private_key_type' => \OPENSSL_KEYTYPE_RSA, 'private_key_bits' => 2048];
        $key = openssl_pkey_new($options);
        \assert(false !== $key);
        $issuer = $key;
        $request = openssl_csr_new(['commonName' => 'gateway'], $key, $options);
        $certificate = $request instanceof \OpenSSLCertificateSigningRequest
            ? openssl_csr_sign($request, null, $issuer, 3650, $options)
            : false;
        if (false === $certificate || !openssl_x509_export($certificate, $pem) || !openssl_pkey_export($issuer, $keyPem)) {
            throw new \RuntimeException('The gateway’s certificate could not be made.');
        }
        \assert(\is_string($pem) && \is_string($keyPem));
        @mkdir($this->folder, 0o700, true);
        $temporary = $path.'.'.getmypid();
        if (false === @file_put_contents($temporary, $pem.$keyPem) || !@rename($temporary, $path)) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be written.', $path));
        }
        chmod($path, 0o600);

        return $path;
    }
}
