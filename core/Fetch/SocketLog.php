<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Http\WebSocket\MessageKind;
use Ypomna\Core\Http\WebSocket\SocketMessage;

/**
 * Writes down what was said on a web socket, as a sequence of JSON texts (RFC 7464). The first says which socket it was:
 * `{"socket":"wss://…","protocol":"…"|null,"opened":"2026-…Z"}`. Each message is one: `at`, milliseconds since then; `from`, `page` or
 * `server`; and `text`, or `bytes` in base64, or `close` (its code or null) with `reason`. A socket that ended without such a close
 * ends with `{"at":…,"end":true}`; one that went on when the page was read, with none.
 */
final class SocketLog
{
    public const TYPE = 'application/json-seq';

    /** @var resource */
    private $file;

    public function __construct(string $path, string $url, ?string $protocol, \DateTimeImmutable $opened)
    {
        $file = @fopen($path, 'x');
        $this->file = false !== $file ? $file : throw new StorageFull(\sprintf('The file “%s” cannot be made.', $path));
        $at = $opened->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.v\Z');
        $this->put(['socket' => $url, 'protocol' => $protocol, 'opened' => $at]);
    }

    public function __destruct()
    {
        fclose($this->file);
    }

    /** @param float $at seconds since the socket was opened */
    public function said(float $at, bool $byPage, SocketMessage $message): void
    {
        $this->put(['at' => self::milliseconds($at), 'from' => $byPage ? 'page' : 'server'] + match (true) {
            MessageKind::Close === $message->kind => ['close' => $message->code, 'reason' => $message->data],
            MessageKind::Text === $message->kind && mb_check_encoding($message->data, 'UTF-8') => ['text' => $message->data],
            default => ['bytes' => base64_encode($message->data)],
        });
    }

    /** The connection was ended without a word. */
    public function ended(float $at): void
    {
        $this->put(['at' => self::milliseconds($at), 'end' => true]);
    }

    /**
     * When the server last said something, by what was written down.
     *
     * @return float|null seconds since the socket was opened; null if it said nothing
     */
    public static function lastSaid(string $path): ?float
    {
        $last = null;
        $file = @fopen($path, 'r');
        while (false !== $file && false !== ($line = fgets($file, 64))) {
            // The beginning of a text is enough.
            if (1 === preg_match('/^\x1E\{"at":(\d+),"from":"server"/', $line, $m)) {
                $last = (int) $m[1] / 1_000;
            }
        }
        if (false !== $file) {
            fclose($file);
        }

        return $last;
    }

    /**
     * Changes the bytes of messages that are no text; in texts they stand as they are.
     *
     * @param \Closure(string): string $clean
     *
     * @return bool whether anything was changed
     */
    public static function clean(string $path, \Closure $clean): bool
    {
        [$from, $to] = [@fopen($path, 'r'), @fopen($path.'.clean', 'w')];
        if (false === $from || false === $to) {
            throw new StorageFull('What was said on a socket could not be overwritten.');
        }
        $changed = false;
        while (false !== ($line = fgets($from))) {
            if (1 === preg_match('/^(\x1E\{"at":\d+,"from":"(?:page|server)","bytes":")([^"]*)("\}\n)$/D', $line, $m)) {
                $bytes = (string) base64_decode($m[2], true);
                $cleaned = $clean($bytes);
                $changed = $changed || $bytes !== $cleaned;
                $line = $m[1].base64_encode($cleaned).$m[3];
            }
            if (@fwrite($to, $line) !== \strlen($line)) {
                throw new StorageFull('What was said on a socket could not be overwritten.');
            }
        }
        fclose($from);
        fclose($to);
        rename($path.'.clean', $path);

        return $changed;
    }

    private static function milliseconds(float $seconds): int
    {
        return (int) round(1_000 * $seconds);
    }

    /**
     * @param array<string, mixed> $said
     */
    private function put(array $said): void
    {
        $how = \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE;
        $line = "\x1E".json_encode($said, $how)."\n";
        if (@fwrite($this->file, $line) !== \strlen($line)) {
            throw new StorageFull('The disk took no more while a socket was being written down.');
        }
    }
}
