<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

use Revolt\EventLoop;
use Ypomna\App\Network\Listener;
use Ypomna\App\Network\Stream;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\DnsMessage;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Http\ChunkedDecoder;
use Ypomna\Core\Http\Framing;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/**
 * The web as it would be out there, on loopback: HTTP and HTTPS by host name on one port, and a name server that knows
 * which of the hosts exist at the clock's moment. Several processes share the port.
 */
final class Server
{
    /** Where the name server says that every host is. */
    public const ADDRESS = '127.77.0.1';

    private const MAX_BODY = 1_048_576;

    /**
     * @param list<Site> $sites
     */
    public function __construct(
        private readonly array $sites,
        private readonly Clock $clock,
        private readonly ControlPage $control,
        private readonly ?MailBox $mail = null,
        private readonly string $log = '',
    ) {
    }

    /**
     * Runs until SIGTERM, which ends the children too.
     */
    public function run(string $webAddress, string $dnsAddress, Authority $authority, int $processes = 3): void
    {
        $web = Listener::socket($webAddress);
        $dns = @stream_socket_server('udp://'.$dnsAddress, $code, $error, \STREAM_SERVER_BIND);
        if (false === $dns) {
            throw new \RuntimeException(\sprintf('Nothing can listen on %s: %s.', $dnsAddress, $error));
        }
        stream_set_blocking($dns, false);
        // Names are asked for over UDP; the same port takes mail over TCP.
        $mail = null === $this->mail ? null : Listener::socket($dnsAddress);
        $certificate = $authority->issue($this->everyHost());
        $children = [];
        $ending = false;
        pcntl_async_signals(true);
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            pcntl_signal($signal, static function () use (&$ending): void { $ending = true; });
        }
        while (!$ending) {
            while (\count($children) < $processes) {
                $pid = pcntl_fork();
                if (0 === $pid) {
                    $this->child($web, $dns, $mail, $certificate, posix_getppid());
                    exit(0);
                }
                $children[$pid] = true;
            }
            while (($gone = pcntl_waitpid(-1, $status, \WNOHANG)) > 0) {
                unset($children[$gone]);
            }
            usleep(100_000);
        }
        foreach (array_keys($children) as $pid) {
            posix_kill($pid, \SIGKILL);
        }
    }

    /**
     * @param resource $web
     * @param resource $dns
     * @param resource|null $mail
     */
    private function child($web, $dns, $mail, string $certificate, int $parent): void
    {
        pcntl_signal(\SIGTERM, \SIG_DFL);
        pcntl_signal(\SIGINT, \SIG_DFL);
        Listener::on($web, $this->serve(...), function () use ($certificate): array {
            $lapsed = [];
            foreach ($this->sites as $site) {
                foreach ($site instanceof Lapses ? $site->lapsed($this->clock->now()) : [] as $host) {
                    $lapsed[$host] = Authority::lapsed($certificate);
                }
            }

            return [
                'local_cert' => $certificate, 'alpn_protocols' => 'http/1.1',
            ] + ([] === $lapsed ? [] : ['SNI_enabled' => true, 'SNI_server_certs' => $lapsed]);
        }, 20.0);
        if (null !== $mail) {
            $this->mail?->on($mail);
        }
        EventLoop::onReadable($dns, fn () => $this->answerName($dns));
        EventLoop::repeat(1.0, static function () use ($parent): void {
            // A parent that was killed can end nobody any more.
            if (posix_getppid() !== $parent) {
                exit(0);
            }
        });
        EventLoop::run();
    }

    private function serve(Stream $client, bool $tls): void
    {
        $pending = '';
        try {
            while (null !== ($request = $this->read($client, $tls, $pending))) {
                $response = $this->respond($request);
                if ($response->delay() > 0) {
                    $suspension = EventLoop::getSuspension();
                    EventLoop::delay($response->delay(), static fn () => $suspension->resume());
                    $suspension->suspend();
                }
                foreach ($response->bytes($request->method, $request->now) as $piece) {
                    $client->write($piece);
                }
                $response->talk()?->__invoke($client, $pending);
                if ($response->resets()) {
                    $client->reset();
                }
                if ($response->closes() || !$request->head->keepsAlive()) {
                    break;
                }
            }
        } catch (FetchFailed|MalformedMessage) {
        } finally {
            $client->close();
        }
    }

    private function respond(Request $request): Response
    {
        if ('' !== $this->log) {
            file_put_contents($this->log, $request->host.' '.$request->method.' '.$request->path."\n", \FILE_APPEND);
        }
        foreach ($this->sites as $site) {
            if (\in_array($request->host, $site->hosts($request->now), true)) {
                return $site->answer($request);
            }
        }
        if (\in_array($request->host, ['localhost', '127.0.0.1', self::ADDRESS], true)) {
            return $this->control->answer($request);
        }

        return Response::html('<title>No such site</title><p>This server has no site of that name.', 404);
    }

    private function read(Stream $client, bool $tls, string &$pending): ?Request
    {
        while (true) {
            $end = MessageHead::end($pending);
            if (null !== $end) {
                break;
            }
            $piece = $client->read();
            if ('' === $piece || \strlen($pending) > MessageHead::MAX_BYTES) {
                return null;
            }
            $pending .= $piece;
        }
        $head = MessageHead::parse(substr($pending, 0, $end));
        $pending = substr($pending, $end);
        $url = Url::tryParse('http://'.($head->fields->get('Host') ?? 'localhost').(string) $head->target);
        if (null === $url) {
            return null;
        }

        return new Request(
            (string) $url->host, $tls, (string) $head->method, $url->path, (string) $url->query, $head,
            $this->body($client, $head, $pending), $this->clock->now(),
        );
    }

    private function body(Stream $client, MessageHead $head, string &$pending): string
    {
        $framing = $head->framing();
        if (Framing::Chunked === $framing) {
            $decoder = new ChunkedDecoder();
            $body = $decoder->push($pending);
            while (!$decoder->isDone() && \strlen($body) < self::MAX_BODY && '' !== ($piece = $client->read())) {
                $body .= $decoder->push($piece);
            }
            $pending = '';

            return $body;
        }
        $length = min((int) $head->contentLength(), self::MAX_BODY);
        while (\strlen($pending) < $length && '' !== ($piece = $client->read())) {
            $pending .= $piece;
        }
        $body = substr($pending, 0, $length);
        $pending = substr($pending, $length);

        return $body;
    }

    /**
     * @param resource $socket
     */
    private function answerName($socket): void
    {
        $bytes = @stream_socket_recvfrom($socket, 512, 0, $peer);
        $query = \is_string($bytes) && '' !== $bytes ? DnsMessage::parse($bytes) : null;
        if (null === $query || !\is_string($peer)) {
            return;
        }
        $now = $this->clock->now();
        $exists = false;
        foreach ($this->sites as $site) {
            $exists = $exists || \in_array($query->name, $site->hosts($now), true);
        }
        $addresses = $exists && DnsMessage::TYPES['A'] === $query->type ? [self::ADDRESS] : [];
        stream_socket_sendto(
            $socket, DnsMessage::answer($query, $exists ? DnsMessage::NO_ERROR : DnsMessage::NO_SUCH_NAME, $addresses, 60), 0, $peer,
        );
    }

    /**
     * @return list<string>
     */
    private function everyHost(): array
    {
        $hosts = [];
        foreach ($this->sites as $site) {
            for ($at = new \DateTimeImmutable(Clock::FIRST); $at < new \DateTimeImmutable(Clock::LAST); $at = $at->modify('+1 month')) {
                array_push($hosts, ...$site->hosts($at));
            }
        }
        sort($hosts);

        return array_values(array_unique($hosts));
    }
}
