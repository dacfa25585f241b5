<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\WebSocket;

use Ypomna\Core\Http\MalformedMessage;

/**
 * Reads what one side of a web socket sends, in pieces of any size: frames (RFC 6455, section 5) put together to messages, unpacked
 * where both sides agreed on it (RFC 7692).
 */
final class MessageReader
{
    /** Longest message that is read, in bytes, packed or not. */
    public const LONGEST = 4_194_304;
    private const CONTINUED = 0;
    private const TEXT = 1;
    private const BINARY = 2;
    private const CLOSE = 8;
    private const PING = 9;
    private const PONG = 10;
    /** A piece of packed bytes this long cannot swell beyond a megabyte. */
    private const STEP = 1_024;

    private string $head = '';
    /** Bytes of the frame that are still to come; null while its head is read. */
    private ?int $left = null;
    private int $opcode = 0;
    private bool $isLast = true;
    private string $mask = '';
    private int $masked = 0;
    /** The message that is under way; null between messages. */
    private ?string $message = null;
    private MessageKind $kind = MessageKind::Text;
    private bool $isPacked = false;
    private string $control = '';
    private ?\InflateContext $inflater = null;

    /**
     * @param bool $byClient whether it is the side whose frames are masked
     * @param bool $packs whether `permessage-deflate` was agreed on
     */
    public function __construct(private readonly bool $byClient, private readonly bool $packs)
    {
    }

    /**
     * @return list<SocketMessage> what is whole by now, in order; pings and pongs are none
     *
     * @throws MalformedMessage if it breaks the protocol, or a message is too long: nothing more can be read then
     */
    public function push(string $bytes): array
    {
        $messages = [];
        for ($at = 0; $at < \strlen($bytes) || 0 === $this->left;) {
            if (null === $this->left) {
                $this->head .= $bytes[$at++];
                $this->readHead();
                continue;
            }
            $piece = substr($bytes, $at, $this->left);
            $at += \strlen($piece);
            $this->left -= \strlen($piece);
            $this->payload($this->unmasked($piece));
            if (0 === $this->left) {
                $this->left = null;
                $message = $this->frameEnds();
                if (null !== $message) {
                    $messages[] = $message;
                }
            }
        }

        return $messages;
    }

    private function readHead(): void
    {
        if (\strlen($this->head) < 2) {
            return;
        }
        [$first, $second] = [\ord($this->head[0]), \ord($this->head[1])];
        $short = $second & 0x7F;
        $extended = 126 === $short ? 2 : (127 === $short ? 8 : 0);
        $isMasked = 0 !== ($second & 0x80);
        if (\strlen($this->head) < 2 + $extended + ($isMasked ? 4 : 0)) {
            return;
        }
        $length = $short;
        foreach (0 === $extended ? [] : str_split(substr($this->head, 2, $extended)) as $n => $byte) {
            $length = 0 === $n ? \ord($byte) : $length << 8 | \ord($byte);
        }
        if ($length < 0 || $length > self::LONGEST) {
            throw new MalformedMessage('A frame of the socket is longer than '.self::LONGEST.' bytes.');
        }
        if ($isMasked !== $this->byClient) {
            throw new MalformedMessage('A frame of the socket is masked where it should not be, or is not where it should.');
        }
        $this->begin($first, $length);
        $this->mask = $isMasked ? substr($this->head, -4) : '';
        $this->masked = 0;
        $this->head = '';
        $this->left = $length;
    }

    private function begin(int $first, int $length): void
    {
        $this->opcode = $first & 0x0F;
        $this->isLast = 0 !== ($first & 0x80);
        $isPacked = 0 !== ($first & 0x40);
        if (0 !== ($first & 0x30) || ($isPacked && (!$this->packs || !\in_array($this->opcode, [self::TEXT, self::BINARY], true)))) {
            throw new MalformedMessage('A frame of the socket uses an extension that nobody agreed on.');
        }
        if (\in_array($this->opcode, [self::CLOSE, self::PING, self::PONG], true)) {
            if (!$this->isLast || $length > 125) {
                throw new MalformedMessage('A control frame of the socket is cut into pieces, or too long.');
            }
            $this->control = '';
        } elseif (\in_array($this->opcode, [self::TEXT, self::BINARY], true)) {
            if (null !== $this->message) {
                throw new MalformedMessage('A message of the socket begins before the last one has ended.');
            }
            $this->message = '';
            $this->kind = self::TEXT === $this->opcode ? MessageKind::Text : MessageKind::Binary;
            $this->isPacked = $isPacked;
        } elseif (self::CONTINUED !== $this->opcode || null === $this->message) {
            throw new MalformedMessage('A frame of the socket is of no known kind, or goes on with nothing.');
        }
    }

    private function unmasked(string $piece): string
    {
        if ('' === $this->mask || '' === $piece) {
            return $piece;
        }
        $mask = substr(str_repeat($this->mask, intdiv(\strlen($piece), 4) + 2), $this->masked % 4, \strlen($piece));
        $this->masked += \strlen($piece);

        return $piece ^ $mask;
    }

    private function payload(string $piece): void
    {
        if ($this->opcode >= self::CLOSE) {
            $this->control .= $piece;
        } elseif ($this->isPacked) {
            $this->unpack($piece);
        } else {
            $this->append($piece);
        }
    }

    private function frameEnds(): ?SocketMessage
    {
        if (self::CLOSE === $this->opcode) {
            $code = \strlen($this->control) < 2 ? null : \ord($this->control[0]) << 8 | \ord($this->control[1]);

            return new SocketMessage(MessageKind::Close, mb_scrub(substr($this->control, 2)), $code);
        }
        if ($this->opcode > self::CLOSE || !$this->isLast) {
            return null;
        }
        if ($this->isPacked) {
            // RFC 7692, section 7.2.2: these were left out.
            $this->unpack("\x00\x00\xff\xff");
        }
        $message = new SocketMessage($this->kind, (string) $this->message);
        $this->message = null;

        return $message;
    }

    private function unpack(string $piece): void
    {
        $inflater = $this->inflater ??= self::inflater();
        foreach ('' === $piece ? [] : str_split($piece, self::STEP) as $step) {
            $unpacked = @inflate_add($inflater, $step, \ZLIB_SYNC_FLUSH);
            if (false === $unpacked) {
                throw new MalformedMessage('A message of the socket cannot be unpacked.');
            }
            $this->append($unpacked);
        }
    }

    private static function inflater(): \InflateContext
    {
        $made = inflate_init(\ZLIB_ENCODING_RAW);

        return false === $made ? throw new MalformedMessage('Packed messages cannot be read here.') : $made;
    }

    private function append(string $piece): void
    {
        $this->message .= $piece;
        if (\strlen($this->message) > self::LONGEST) {
            throw new MalformedMessage('A message of the socket is longer than '.self::LONGEST.' bytes.');
        }
    }
}
