<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Core\Fetch\Connection;
use Ypomna\Core\Fetch\Connector;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/** Servers that say what a test wants, a list of pieces for each connection that is opened. */
final class PlayedWeb implements Connector
{
    /** @var list<string> `address:port` of every connection that was opened */
    public array $connections = [];
    /** @var list<PlayedPeer> */
    public array $peers = [];
    /** @var array<string, true> */
    private array $refused = [];

    /** @var list<list<string|FailureReason>> */
    private array $answers;

    /**
     * @param list<string|FailureReason> ...$answers pieces of each connection in turn
     */
    public function __construct(array ...$answers)
    {
        $this->answers = array_values($answers);
    }

    public function refuses(string $ip): void
    {
        $this->refused[$ip] = true;
    }

    public function connect(string $host, string $ip, int $port, bool $tls): Connection
    {
        if (isset($this->refused[$ip])) {
            throw new FetchFailed(FailureReason::Refused, 'Refused.');
        }
        $this->connections[] = $ip.':'.$port;

        return $this->peers[] = new PlayedPeer(array_shift($this->answers) ?? []);
    }
}
