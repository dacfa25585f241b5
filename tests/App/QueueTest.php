<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;
use Ypomna\App\Capture\KeepPage;
use Ypomna\App\Capture\Queue\TableTransport;

final class QueueTest extends AppTestCase
{
    private TableTransport $queue;

    protected function setUp(): void
    {
        parent::setUp();
        $this->queue = $this->worker();
    }

    public function testAMessageIsTakenOnceAndIsGoneWhenWorkedOff(): void
    {
        $this->queue->send(new Envelope(new KeepPage(7)));
        [$taken] = [...$this->queue->get()];
        self::assertEquals(new KeepPage(7), $taken->getMessage());
        self::assertSame([], [...$this->worker()->get()]);
        self::assertSame(1, $this->queue->getMessageCount());
        $this->queue->ack($taken);
        self::assertSame(0, $this->queue->getMessageCount());
    }

    public function testTheOldestComesFirstAndADelayedOneLater(): void
    {
        $this->queue->send(new Envelope(new KeepPage(1), [new DelayStamp(3_600_000)]));
        $this->queue->send(new Envelope(new KeepPage(2)));
        $this->queue->send(new Envelope(new KeepPage(3)));
        self::assertSame([2, 3], [$this->next(), $this->next()]);
        self::assertNull($this->next());
    }

    public function testWhatAWorkerHoldsThatLivesStaysItsOwn(): void
    {
        $this->queue->send(new Envelope(new KeepPage(1)));
        $this->next();
        $this->leasedBy(gethostname().':'.posix_getppid(), 60);
        self::assertSame([], [...$this->worker()->get()]);
    }

    public function testWhatADeadWorkerOfThisMachineHeldIsFreeAtOnce(): void
    {
        $this->queue->send(new Envelope(new KeepPage(1)));
        $this->next();
        $this->leasedBy(gethostname().':4194303', 3_600);
        self::assertCount(1, [...$this->worker()->get()]);
    }

    public function testWhatAWorkerElsewhereHeldIsFreeWhenItsLeaseEnds(): void
    {
        $this->queue->send(new Envelope(new KeepPage(1)));
        [$taken] = [...$this->queue->get()];
        $this->leasedBy('elsewhere:1', 60);
        self::assertSame([], [...$this->worker()->get()]);
        $this->leasedBy('elsewhere:1', -1);
        self::assertCount(1, [...$this->worker()->get()]);
        $this->leasedBy('elsewhere:1', -1);
        $this->queue->keepalive($taken);
        self::assertSame([], [...$this->worker()->get()]);
    }

    public function testWhatCannotBeReadIsThrownAwayAndNotMetAgain(): void
    {
        $this->queue->send(new Envelope(new KeepPage(1)));
        self::service(Connection::class)->executeStatement("UPDATE queue_message SET body = 'rubbish'");
        try {
            $this->next();
            self::fail('Rubbish was read.');
        } catch (\Symfony\Component\Messenger\Exception\MessageDecodingFailedException) {
            self::assertSame(0, $this->queue->getMessageCount());
        }
    }

    private function next(): ?int
    {
        foreach ($this->queue->get() as $envelope) {
            $message = $envelope->getMessage();
            self::assertInstanceOf(KeepPage::class, $message);

            return $message->jobId;
        }

        return null;
    }

    private function leasedBy(string $who, int $seconds): void
    {
        self::service(Connection::class)->executeStatement('UPDATE queue_message SET leased_by = ?, leased_until = UTC_TIMESTAMP(6) + INTERVAL ? SECOND', [$who, $seconds]);
    }

    private function worker(): TableTransport
    {
        return new TableTransport(self::service(Connection::class), new PhpSerializer(), 60);
    }
}
