<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Fetch\Connection;
use Ypomna\Core\Fetch\Connector;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Limits;

/**
 * Connections over TCP, with TLS where asked, the server's certificate checked against the machine's authorities or
 * those of a PEM file.
 */
final class StreamConnector implements Connector
{
    /** @var array<string, string> what was wrong with certificates that were taken all the same, by host */
    public array $distrusted = [];

    /** @param bool $insecure whether a server whose certificate cannot be trusted is asked all the same */
    public function __construct(
        private readonly Limits $limits,
        private readonly ?string $authorities = null,
        private readonly bool $insecure = false,
    ) {
    }

    public function connect(string $host, string $ip, int $port, bool $tls): Connection
    {
        if (!$tls || !$this->insecure || isset($this->distrusted[$host])) {
            return $this->open($host, $ip, $port, $tls, !isset($this->distrusted[$host]));
        }
        try {
            return $this->open($host, $ip, $port, true, true);
        } catch (FetchFailed $e) {
            if (FailureReason::Tls !== $e->reason) {
                throw $e;
            }
            $connection = $this->open($host, $ip, $port, true, false);
            $this->distrusted[$host] = $e->getMessage();

            return $connection;
        }
    }

    private function open(string $host, string $ip, int $port, bool $tls, bool $verify): Connection
    {
        $bare = trim($host, '[]');
        $ssl = [
            'peer_name' => $bare, 'SNI_enabled' => false === @inet_pton($bare), 'verify_peer' => $verify, 'verify_peer_name' => $verify,
            'allow_self_signed' => !$verify,
            'capture_peer_cert_chain' => true, 'alpn_protocols' => 'http/1.1', 'verify_depth' => 12,
        ] + (null === $this->authorities ? [] : ['cafile' => $this->authorities]);
        $target = 'tcp://'.(str_contains($ip, ':') ? '['.$ip.']' : $ip).':'.$port;
        $until = microtime(true) + $this->limits->connectSeconds;
        $socket = @stream_socket_client(
            $target,
            $code,
            $error,
            0,
            \STREAM_CLIENT_CONNECT | \STREAM_CLIENT_ASYNC_CONNECT,
            stream_context_create(['ssl' => $ssl, 'socket' => ['tcp_nodelay' => true]]),
        );
        if (false === $socket) {
            throw new FetchFailed(FailureReason::Refused, \sprintf('%s at %s cannot be connected to: %s.', $host, $ip, $error));
        }
        stream_set_blocking($socket, false);
        stream_set_read_buffer($socket, 0);
        Stream::await(
            $socket, true, $until, \sprintf('%s at %s did not answer within %d seconds.', $host, $ip, $this->limits->connectSeconds),
        );
        if (false === @stream_socket_get_name($socket, true)) {
            fclose($socket);
            throw new FetchFailed(FailureReason::Refused, \sprintf('%s at %s refused the connection.', $host, $ip));
        }
        $certificates = $tls ? $this->encrypt($socket, $host, $until) : [];

        return new Stream($socket, (float) $this->limits->idleSeconds, $certificates);
    }

    /**
     * @param resource $socket
     *
     * @return list<string> the chain in PEM
     */
    private function encrypt($socket, string $host, float $until): array
    {
        $warning = '';
        set_error_handler(static function (int $level, string $message) use (&$warning): bool {
            $warning .= $message.' ';

            return true;
        });
        try {
            do {
                $done = stream_socket_enable_crypto(
                    $socket, true, \STREAM_CRYPTO_METHOD_TLSv1_2_CLIENT | \STREAM_CRYPTO_METHOD_TLSv1_3_CLIENT,
                );
                if (0 === $done) {
                    Stream::await($socket, false, $until, \sprintf('%s did not finish the TLS handshake in time.', $host));
                }
            } while (0 === $done);
        } finally {
            restore_error_handler();
        }
        if (true !== $done) {
            fclose($socket);
            throw new FetchFailed(
                FailureReason::Tls, \sprintf('%s shows no certificate that can be trusted: %s', $host, self::reason($warning)),
            );
        }
        $chain = [];
        /** @var array{ssl?: array{peer_certificate_chain?: list<\OpenSSLCertificate>}} $options */
        $options = stream_context_get_options($socket);
        foreach ($options['ssl']['peer_certificate_chain'] ?? [] as $certificate) {
            if (openssl_x509_export($certificate, $pem) && \is_string($pem)) {
                $chain[] = $pem;
            }
        }

        return $chain;
    }

    private static function reason(string $warning): string
    {
        return match (true) {
            str_contains($warning, 'certificate verify failed') => 'it is expired, or signed by nobody known.',
            str_contains($warning, 'did not match') => 'it is made out to another name.',
            default => 'the handshake failed ('.trim(mb_strimwidth((string) preg_replace('/\s+/', ' ', $warning), 0, 200, '…')).').',
        };
    }
}
