<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Reach;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Network\UdpResolver;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\Core\Account\Base32;
use Ypomna\Core\Fetch\DnsStatus;
use Ypomna\Core\Tls\ServerCertificate;
use Ypomna\Core\Tls\UnusableCertificate;

/**
 * Goes the way that readers go: from the public name over whatever stands in front to the application, and to a host of archived pages
 * that nobody has asked for before. Whatever is missing on it is said in a sentence.
 */
final readonly class Reach
{
    private const SECONDS = 5.0;
    private const MOST_ADDRESSES = 4;
    private const MOST_BYTES = 16_384;

    /** @param string $resolver `system`, or `dns://address:port`: who knows the names that readers use */
    public function __construct(
        private FrontSettings $settings,
        private ShownCertificates $certificates,
        private ReachProof $proof,
        #[Autowire('%env(READERS_RESOLVER)%')] private string $resolver,
    ) {
    }

    /** @return list<string> sentences; empty if a server can begin with these settings */
    public function beforehand(): array
    {
        $faults = $this->settings->faults();
        $of = $this->settings;
        foreach ([[$of->certificate, $of->key], [$of->pagesCertificate, $of->pagesKey]] as [$certificate, $key]) {
            array_push($faults, ...('' === $certificate || '' === $key ? [] : $this->certificates->filesFaults($certificate, $key)));
        }

        return $faults;
    }

    /** @return list<string> sentences; empty if readers come here */
    public function faults(): array
    {
        $faults = $this->beforehand();
        if ([] !== $faults) {
            return $faults;
        }
        if ($this->settings->isNear()) {
            return [];
        }
        $public = $this->settings->public();
        $word = self::word();
        $below = $this->settings->pagesDomain;

        return [
            ...$this->settings->warnings(), ...$this->way($public, $public->host, null, $word),
            ...$this->way($public, $word.'.'.$below, $below, $word),
        ];
    }

    /**
     * @param string|null $below the domain of archived pages, if it is a host of these
     *
     * @return list<string>
     */
    private function way(PublicUrl $public, string $host, ?string $below, string $word): array
    {
        $literal = @inet_pton(trim($host, '[]'));
        $answer = false === $literal ? UdpResolver::fromDsn($this->resolver)->resolve($host) : null;
        $addresses = null === $answer ? [trim($host, '[]')] : \array_slice($answer->addresses, 0, self::MOST_ADDRESSES);
        if ([] === $addresses) {
            $why = DnsStatus::Failed === $answer?->status ? 'no name server gave an answer: '.$answer->source : 'there is no such name';

            return [
                null === $below
                    ? \sprintf('The name %s leads nowhere (%s).', $host, $why)
                    : \sprintf('Names below %s lead nowhere (%s): archived pages need a wildcard, *.%1$s, that leads here.', $below, $why),
            ];
        }
        $faults = [];
        foreach ($addresses as $address) {
            array_push($faults, ...$this->at($public, $host, $below, $address, $word));
        }

        return array_values(array_unique($faults));
    }

    /** @return list<string> */
    private function at(PublicUrl $public, string $host, ?string $below, string $address, string $word): array
    {
        $name = $below ?? $host;
        $place = (str_contains($address, ':') ? '['.$address.']' : $address).':'.$public->port;
        $trusted = $this->open($public, $place, $host, true);
        $socket = $trusted ?? ($public->isTls() ? $this->open($public, $place, $host, false) : null);
        if (null === $socket) {
            return [\sprintf('Nothing answers for %s at %s.', $name, $place)];
        }
        $faults = $this->shown($socket, $host, $below);
        if (null === $trusted && [] === $faults) {
            $faults[] = \sprintf(
                'This machine does not trust the certificate that is shown for %s; its authority is unknown here, or an authority between'
                    .' is left out of the file (SSL_CERT_FILE names a file of authorities).', $name,
            );
        }
        $answer = self::ask($socket, $host.$public->portPart(), ReachProof::path($word));
        fclose($socket);
        $isOurs = $this->proof->read($word, $answer[1]);
        if (null === $isOurs) {
            $faults[] = 421 === $answer[0]
                ? \sprintf('What stands in front does not pass the Host field on as it came (asked for %s).', $host)
                : \sprintf('The name %s leads to %s, but something else answers there.', null === $below ? $host : '*.'.$below, $place);
        } elseif (!$isOurs && $public->isTls()) {
            $faults[] = 'The application is told that it was asked without TLS: the proxy in front has to send X-Forwarded-Proto, and to be'
                .' named in TRUSTED_PROXIES.';
        }

        return $faults;
    }

    /**
     * What is wrong with the certificate that was shown.
     *
     * @param resource $socket
     *
     * @return list<string>
     */
    private function shown($socket, string $host, ?string $below): array
    {
        $options = stream_context_get_options($socket);
        $shown = \is_array($options['ssl'] ?? null) ? $options['ssl']['peer_certificate'] ?? null : null;
        if (!$shown instanceof \OpenSSLCertificate || !openssl_x509_export($shown, $pem) || !\is_string($pem)) {
            return [];
        }
        try {
            return $this->certificates->faults(ServerCertificate::parse($pem), $host, $below);
        } catch (UnusableCertificate) {
            return [];
        }
    }

    /** @return resource|null */
    private function open(PublicUrl $public, string $place, string $host, bool $verify)
    {
        $context = stream_context_create(['ssl' => [
            'peer_name' => trim($host, '[]'), 'verify_peer' => $verify, 'verify_peer_name' => $verify, 'capture_peer_cert' => true,
            'disable_compression' => true,
        ]]);
        $socket = @stream_socket_client(
            ($public->isTls() ? 'tls://' : 'tcp://').$place, $code, $error, self::SECONDS, \STREAM_CLIENT_CONNECT, $context,
        );

        return false === $socket ? null : $socket;
    }

    /**
     * @param resource $socket
     *
     * @return array{int, string} status, 0 if there is none; and body
     */
    private static function ask($socket, string $authority, string $path): array
    {
        stream_set_timeout($socket, (int) self::SECONDS);
        @fwrite($socket, "GET {$path} HTTP/1.1\r\nHost: {$authority}\r\nUser-Agent: Ypomna\r\nConnection: close\r\n\r\n");
        $bytes = '';
        $end = microtime(true) + self::SECONDS;
        while (!feof($socket) && \strlen($bytes) < self::MOST_BYTES && microtime(true) < $end) {
            $piece = @fread($socket, 8192);
            if (false === $piece || ('' === $piece && stream_get_meta_data($socket)['timed_out'])) {
                break;
            }
            $bytes .= $piece;
        }
        [$head, $body] = explode("\r\n\r\n", $bytes, 2) + [1 => ''];
        $isChunked = 1 === preg_match('/^transfer-encoding:\s*chunked/mi', $head);
        $body = $isChunked && 1 === preg_match('/^[0-9a-f]+\r\n(.*?)\r\n0\r\n/is', $body, $m) ? $m[1] : $body;

        return [1 === preg_match('~^HTTP/1\.[01] (\d{3})~', $head, $m) ? (int) $m[1] : 0, $body];
    }

    private static function word(): string
    {
        return strtolower(Base32::encode(random_bytes(16)));
    }
}
