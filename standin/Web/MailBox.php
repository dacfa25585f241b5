<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

use Revolt\EventLoop;
use Ypomna\App\Network\Stream;
use Ypomna\Core\Fetch\FetchFailed;

/** A mail server that takes every message and sends none on (RFC 5321): they lie in a folder, for the control page to show. */
final readonly class MailBox
{
    private const PATIENCE = 20.0;
    private const LARGEST = 4_194_304;
    private const MOST = 200;

    public function __construct(private string $folder)
    {
    }

    /** @param resource $socket listening, non-blocking */
    public function on($socket): void
    {
        EventLoop::onReadable($socket, function () use ($socket): void {
            while (false !== ($client = @stream_socket_accept($socket, 0))) {
                stream_set_blocking($client, false);
                EventLoop::queue(function () use ($client): void {
                    $stream = new Stream($client, self::PATIENCE);
                    try {
                        $this->serve($stream);
                    } catch (FetchFailed) {
                        // Whoever went away is gone.
                    } finally {
                        $stream->close();
                    }
                });
            }
        });
    }

    /**
     * @return list<array{name: string, from: string, to: string, subject: string, at: string}> newest first
     */
    public function messages(): array
    {
        $messages = [];
        $files = glob($this->folder.'/*.eml');
        foreach (\array_slice(array_reverse(false === $files ? [] : $files), 0, self::MOST) as $file) {
            $head = (string) file_get_contents($file, false, null, 0, 16_384);
            $field = static fn (string $name): string => 1 === preg_match('/^'.$name.':[ \t]*((?:.*(?:\r?\n[ \t]+)?)+?)\r?$/mi', $head, $m)
                ? mb_decode_mimeheader(trim((string) preg_replace('/\r?\n[ \t]+/', ' ', $m[1])))
                : '';
            $messages[] = [
                'name' => basename($file), 'from' => $field('From'), 'to' => $field('To'), 'subject' => $field('Subject'),
                'at' => $field('Date'),
            ];
        }

        return $messages;
    }

    /** @return string|null the message as it came */
    public function message(string $name): ?string
    {
        return 1 === preg_match('/^[0-9a-f-]{10,60}\.eml$/D', $name) && is_file($this->folder.'/'.$name)
            ? (string) file_get_contents($this->folder.'/'.$name)
            : null;
    }

    private function serve(Stream $client): void
    {
        $client->write("220 mail.test takes mail\r\n");
        $pending = '';
        while (null !== ($line = $this->line($client, $pending))) {
            $word = strtoupper(substr($line, 0, 4));
            if ('DATA' === $word) {
                $client->write("354 Go on, and end with a dot\r\n");
                $client->write($this->take($client, $pending) ? "250 Taken\r\n" : "552 Too large\r\n");
                continue;
            }
            $client->write(match ($word) {
                'EHLO', 'HELO' => "250 mail.test\r\n",
                'MAIL', 'RCPT', 'RSET', 'NOOP' => "250 Fine\r\n",
                'QUIT' => "221 Farewell\r\n",
                default => "502 Not here\r\n",
            });
            if ('QUIT' === $word) {
                return;
            }
        }
    }

    private function take(Stream $client, string &$pending): bool
    {
        $message = '';
        while (null !== ($line = $this->line($client, $pending)) && '.' !== $line) {
            // Lines that begin with a dot come with one more (section 4.5.2).
            $message .= (str_starts_with($line, '.') ? substr($line, 1) : $line)."\r\n";
            if (\strlen($message) > self::LARGEST) {
                return false;
            }
        }
        if (!is_dir($this->folder)) {
            @mkdir($this->folder, 0o755, true);
        }

        return false !== file_put_contents(
            $this->folder.'/'.\sprintf('%016x-%s.eml', (int) (1e6 * microtime(true)), bin2hex(random_bytes(3))), $message,
        );
    }

    private function line(Stream $client, string &$pending): ?string
    {
        while (true) {
            $end = strpos($pending, "\n");
            if (false !== $end) {
                $line = rtrim(substr($pending, 0, $end), "\r");
                $pending = substr($pending, $end + 1);

                return $line;
            }
            $piece = \strlen($pending) > self::LARGEST ? '' : $client->read();
            if ('' === $piece) {
                return null;
            }
            $pending .= $piece;
        }
    }
}
