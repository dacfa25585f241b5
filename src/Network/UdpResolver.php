<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Fetch\DnsAnswer;
use Ypomna\Core\Fetch\DnsMessage;
use Ypomna\Core\Fetch\DnsStatus;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Resolver;
use Ypomna\Core\Split;

/**
 * Asks name servers over UDP (RFC 1035 section 4.2.1), the hosts file before them, and keeps what each one said.
 */
final readonly class UdpResolver implements Resolver
{
    private const SECONDS = 3.0;

    /**
     * @param list<string> $servers `address:port`, asked in this order
     */
    public function __construct(private array $servers, private string $hostsFile = '/etc/hosts')
    {
    }

    /**
     * @param string $dsn `dns://address:port`, or `system` for what the machine is set to
     */
    public static function fromDsn(string $dsn): self
    {
        if ('system' !== $dsn) {
            return new self([(string) preg_replace('~^dns://~', '', $dsn)]);
        }
        preg_match_all('/^nameserver\s+(\S+)/m', (string) @file_get_contents('/etc/resolv.conf'), $m);

        return new self(array_map(static fn (string $ip): string => (str_contains($ip, ':') ? '['.$ip.']' : $ip).':53', $m[1]));
    }

    public function resolve(string $host): DnsAnswer
    {
        $name = rtrim(strtolower($host), '.');
        $fixed = $this->inHostsFile($name);
        if ([] !== $fixed) {
            return new DnsAnswer($host, DnsStatus::Answered, $fixed, [], 'hosts file');
        }
        $said = [] === $this->servers ? 'no name server is set' : '';
        foreach ($this->servers as $server) {
            $answer = $this->ask($server, $name);
            if (DnsStatus::Failed !== $answer->status) {
                return $answer;
            }
            $said .= ('' === $said ? '' : ', ').$answer->source;
        }

        return new DnsAnswer($host, DnsStatus::Failed, [], [], $said);
    }

    private function ask(string $server, string $name): DnsAnswer
    {
        $addresses = [];
        $records = [];
        $trusted = 0;
        foreach (['A', 'AAAA'] as $type) {
            $message = $this->query($server, $name, $type);
            $trusted += null !== $message && \in_array($message->code, [DnsMessage::NO_ERROR, DnsMessage::NO_SUCH_NAME], true) ? 1 : 0;
            foreach ($message->records ?? [] as $record) {
                $records[] = $record;
                if ($record['type'] === $type) {
                    $addresses[] = $record['data'];
                }
            }
            if (DnsMessage::NO_SUCH_NAME === $message?->code) {
                return new DnsAnswer($name, DnsStatus::NoAddress, [], [], 'dns '.$server);
            }
        }
        $status = match (true) {
            [] !== $addresses => DnsStatus::Answered,
            2 === $trusted => DnsStatus::NoAddress,
            default => DnsStatus::Failed,
        };

        return new DnsAnswer($name, $status, $addresses, $records, 'dns '.$server);
    }

    private function query(string $server, string $name, string $type): ?DnsMessage
    {
        $socket = @stream_socket_client('udp://'.$server, $code, $error, self::SECONDS);
        if (false === $socket) {
            return null;
        }
        stream_set_blocking($socket, false);
        try {
            $id = random_int(0, 0xFFFF);
            @fwrite($socket, DnsMessage::query($id, $name, $type));
            $until = microtime(true) + self::SECONDS;
            while (microtime(true) < $until) {
                Stream::await($socket, false, $until, 'The name server is silent.');
                $bytes = @fread($socket, 65_536);
                if (false === $bytes || '' === $bytes) {
                    return null;
                }
                $message = DnsMessage::parse($bytes);
                // Anything else that arrives here was sent by somebody who guesses.
                if (null !== $message && $message->isAnswer && $message->id === $id && $message->name === $name
                    && DnsMessage::TYPES[$type] === $message->type) {
                    return $message;
                }
            }
        } catch (FetchFailed) {
        } finally {
            fclose($socket);
        }

        return null;
    }

    /**
     * @return list<string>
     */
    private function inHostsFile(string $name): array
    {
        $found = [];
        foreach (explode("\n", (string) @file_get_contents($this->hostsFile)) as $line) {
            $words = Split::words(trim(explode('#', $line)[0]));
            $address = array_shift($words);
            if (null !== $address && \in_array($name, array_map('strtolower', $words), true) && false !== @inet_pton($address)) {
                $found[] = $address;
            }
        }

        return $found;
    }
}
