<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Ypomna\App\Network\Listener;
use Ypomna\App\Network\Stream;

/**
 * A browser, and the one listener that all its connections come to: in a network of its own, of which that socket is all that there
 * is; where the machine does not allow that, in the machine's network, with every connection led to it.
 */
final class WalledBrowser
{
    private static ?bool $canCell = null;
    private bool $ended = false;

    private function __construct(public readonly Chromium $chromium, private readonly Listener $listener)
    {
    }

    /**
     * @param string $folder an empty folder of this browser's own
     * @param \Closure(Stream, bool): void $serve answers a connection; told whether TLS was used
     * @param array<string, mixed> $tls context options
     * @param float $patience seconds that a connection may be silent
     * @param bool $mustSandbox whether it is rather not started than without its own sandbox
     *
     * @throws BrowserFailed
     */
    public static function start(
        string $binary, string $folder, \Closure $serve, array $tls = [], float $patience = 60.0, bool $mustSandbox = false,
    ): self {
        if (self::$canCell ??= BrowserCell::isPossible()) {
            $cell = BrowserCell::prepare();
            $chromium = Chromium::start($binary, $folder, $cell, $mustSandbox);
            try {
                return new self($chromium, Listener::on($cell->socket(), $serve, $tls, $patience));
            } catch (BrowserFailed $e) {
                $chromium->end();
                throw $e;
            }
        }
        $listener = Listener::open('127.0.0.1:0', $serve, $tls, $patience);
        try {
            return new self(Chromium::start($binary, $folder, $listener->port(), $mustSandbox), $listener);
        } catch (BrowserFailed $e) {
            $listener->close();
            throw $e;
        }
    }

    public function port(): int
    {
        return $this->listener->port();
    }

    /**
     * Makes it as good as a new one: its pages and workers are closed, what follows knows nothing of what they stored, and nobody
     * answers it until it is led to somebody.
     *
     * @throws BrowserFailed
     */
    public function startAfresh(): void
    {
        $this->lead(static fn (Stream $client) => $client->close());
        $this->chromium->startAfresh();
    }

    /**
     * From now on its connections come there, without TLS.
     *
     * @param \Closure(Stream, bool): void $serve
     */
    public function lead(\Closure $serve): void
    {
        $this->listener->lead($serve);
    }

    public function end(): void
    {
        if ($this->ended) {
            return;
        }
        $this->ended = true;
        $this->chromium->end();
        $this->listener->close();
        Listener::drain();
    }
}
