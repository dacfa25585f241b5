<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Finder\Finder;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Exception\MessageDecodingFailedException;
use Symfony\Component\Messenger\Middleware\MiddlewareInterface;
use Symfony\Component\Messenger\Middleware\StackInterface;
use Symfony\Component\Messenger\Middleware\StackMiddleware;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Messenger\Stamp\ReceivedStamp;
use Symfony\Component\Messenger\Stamp\RedeliveryStamp;
use Ypomna\App\Archives\Message\FetchMemento;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Capture\Message\WorkOnCrawl;
use Ypomna\App\Compare\Message\MeasureAgain;
use Ypomna\App\Compare\Message\TakeFingerprints;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Message\BuildParcel;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Exchange\Message\VerifyHoldings;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Value\ParcelState;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\References\Message\MatchReferences;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Queue\JsonMessages;
use Ypomna\App\Shared\Queue\ProcessorLimit;
use Ypomna\App\Shared\Queue\QueuedMessage;
use Ypomna\App\Shared\Queue\TableTransport;
use Ypomna\App\Shared\Queue\TableTransportFactory;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

final class QueueTest extends AppTestCase
{
    private TableTransport $queue;
    /** @var list<object> */
    private array $givenUp = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->queue = $this->worker();
    }

    public function testAMessageIsTakenOnceAndIsGoneWhenWorkedOff(): void
    {
        $this->queue->send(new Envelope(new CapturePage(7)));
        [$taken] = [...$this->queue->get()];
        self::assertEquals(new CapturePage(7), $taken->getMessage());
        self::assertSame([], [...$this->worker()->get()]);
        self::assertSame(1, $this->queue->getMessageCount());
        $this->queue->ack($taken);
        self::assertSame(0, $this->queue->getMessageCount());
    }

    public function testTheOldestComesFirstAndADelayedOneLater(): void
    {
        $this->queue->send(new Envelope(new CapturePage(1), [new DelayStamp(3_600_000)]));
        $this->queue->send(new Envelope(new CapturePage(2)));
        $this->queue->send(new Envelope(new CapturePage(3)));
        self::assertSame([2, 3], [$this->next(), $this->next()]);
        self::assertNull($this->next());
    }

    public function testWhatAWorkerHoldsThatLivesStaysItsOwn(): void
    {
        $this->queue->send(new Envelope(new CapturePage(1)));
        $this->next();
        $this->leasedBy(gethostname().':'.posix_getppid(), 60);
        self::assertSame([], [...$this->worker()->get()]);
    }

    public function testWhatADeadWorkerOfThisMachineHeldIsFreeAtOnce(): void
    {
        $this->queue->send(new Envelope(new CapturePage(1)));
        $this->next();
        $this->leasedBy(gethostname().':4194303', 3_600);
        self::assertCount(1, [...$this->worker()->get()]);
    }

    public function testWhatAWorkerElsewhereHeldIsFreeWhenItsLeaseEnds(): void
    {
        $this->queue->send(new Envelope(new CapturePage(1)));
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
        $this->queue->send(new Envelope(new CapturePage(1)));
        self::service(Connection::class)->executeStatement("UPDATE queue_message SET body = 'rubbish'");
        try {
            $this->next();
            self::fail('Rubbish was read.');
        } catch (MessageDecodingFailedException) {
            self::assertSame(0, $this->queue->getMessageCount());
        }
    }

    public function testAMessageThatEndsEveryWorkerIsGivenUp(): void
    {
        $this->queue->send(new Envelope(new CapturePage(5)));
        for ($n = 0; $n < 6; ++$n) {
            self::assertSame(5, $this->next());
            $this->leasedBy('elsewhere:1', -1);
        }
        self::assertNull($this->next());
        self::assertEquals([[new CapturePage(5)], 0], [$this->givenUp, $this->queue->getMessageCount()]);
    }

    public function testWhatIsGivenUpSaysSo(): void
    {
        $this->takeIn((new WarcBuilder('a'))->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a'));
        $parcel = self::service(Parcels::class)->ask(
            Viewer::system(), new ParcelOptions([$this->captureOf('http://lantern.test/a')->code], [], false),
        );
        $by = new Actor('Tomas Okoye');
        $arrivals = self::service(Arrivals::class);
        [$arrival, $fetched] = [$arrivals->expect($by, 'a.warc.gz'), $arrivals->expect($by, 'b.warc.gz')];
        $verification = self::service(Verifier::class)->begin($by);
        self::service(Connection::class)->executeStatement('DELETE FROM queue_message');
        $transport = self::service(TableTransportFactory::class)->createTransport('table://', [], new JsonMessages());
        self::assertInstanceOf(TableTransport::class, $transport);
        $messages = [
            new BuildParcel((int) $parcel->id), new ImportFile((int) $arrival->id), new VerifyHoldings((int) $verification->id),
            new FetchMemento((int) $fetched->id, 'x', 'http://lantern.test/', 'http://mirror.sound-archive.test/x'),
        ];
        foreach ($messages as $message) {
            $transport->send(new Envelope($message));
        }
        self::service(Connection::class)->executeStatement('UPDATE queue_message SET deliveries = 6');
        self::assertSame([[], [], [], []], array_map(static fn (): array => [...$transport->get()], $messages));
        self::assertSame(
            [ParcelState::Failed, ArrivalState::Refused, ArrivalState::Refused], [$parcel->state, $arrival->state, $fetched->state],
        );
        self::assertNotNull($verification->finishedAt);
        self::assertCount(1, $verification->findings);
        self::assertStringContainsString('came to an end over it', $this->get('/export/'.$parcel->code));
    }

    public function testAWorkerIsEndedThatTakesTooMuchOfTheProcessorForOneMessage(): void
    {
        $limits = [];
        $next = new class(static function () use (&$limits): void {
            ProcessorLimit::again();
            $limits[] = \ini_get('max_execution_time');
        }) implements MiddlewareInterface {
            /** @param \Closure(): void $told */
            public function __construct(private readonly \Closure $told)
            {
            }

            public function handle(Envelope $envelope, StackInterface $stack): Envelope
            {
                ($this->told)();

                return $envelope;
            }
        };
        foreach ([new CapturePage(1), new VerifyHoldings(1)] as $message) {
            (new ProcessorLimit())->handle(
                new Envelope($message, [new ReceivedStamp('work')]), new StackMiddleware([new ProcessorLimit(), $next]),
            );
            $limits[] = \ini_get('max_execution_time');
        }
        ProcessorLimit::again();
        self::assertSame('0', \ini_get('max_execution_time'), 'where there is no limit none begins');
        self::assertSame(['900', '0', '43200', '0'], $limits);
    }

    public function testHowOftenAMessageWasTriedIsKept(): void
    {
        $this->queue->send(new Envelope(new CapturePage(1), [new RedeliveryStamp(1), new RedeliveryStamp(2)]));
        [$taken] = [...$this->queue->get()];
        self::assertSame(2, RedeliveryStamp::getRetryCountFromEnvelope($taken));
    }

    public function testEveryMessageToAWorkerComesBackAsItWas(): void
    {
        $messages = [
            new MatchReferences(4, 7, true), new MeasureAgain("http://lantern.test/\u{1F4A1}\"", false, 3), new TakeFingerprints(),
            new FetchMemento(3, 'abc', 'http://lantern.test/', 'http://mirror.sound-archive.test/x'), new WorkOnCrawl(1, 2),
        ];
        foreach ($messages as $message) {
            $this->queue->send(new Envelope($message));
            self::assertEquals([$message], array_map(static fn (Envelope $one): object => $one->getMessage(), [...$this->queue->get()]));
        }
        foreach (self::handled() as $class) {
            self::assertTrue(
                is_subclass_of($class, QueuedMessage::class), $class.' is worked off by a handler, and the queue does not take it',
            );
        }
    }

    /** @return list<class-string> what handlers take */
    private static function handled(): array
    {
        $classes = [];
        foreach (Finder::create()->files()->in(\dirname(__DIR__, 2).'/src')->contains('#[AsMessageHandler') as $file) {
            $handler = 'Ypomna\App\\'.strtr(substr($file->getRelativePathname(), 0, -4), '/', '\\');
            self::assertTrue(class_exists($handler), $handler);
            $class = new \ReflectionClass($handler);
            $marked = array_filter(
                $class->getMethods(), static fn (\ReflectionMethod $one): bool => [] !== $one->getAttributes(AsMessageHandler::class),
            );
            $method = [] === $marked ? $class->getMethod('__invoke') : current($marked);
            $type = $method->getParameters()[0]->getType();
            self::assertInstanceOf(\ReflectionNamedType::class, $type);
            self::assertTrue(class_exists($type->getName()));
            $classes[] = $type->getName();
        }
        self::assertGreaterThan(10, \count($classes));

        return $classes;
    }

    #[DataProvider('attacks')]
    public function testWhoeverWritesIntoTheQueueMakesNothingButMessages(string $body): void
    {
        $this->queue->send(new Envelope(new CapturePage(1)));
        self::service(Connection::class)->executeStatement('UPDATE queue_message SET body = ?', [$body]);
        $this->expectException(MessageDecodingFailedException::class);
        $this->next();
    }

    /** @return iterable<string, array{string}> */
    public static function attacks(): iterable
    {
        $made = addslashes(serialize(new Envelope(new CapturePage(7))));
        yield 'written by PHP' => [$made];
        yield 'the same in base64' => [base64_encode($made)];
        yield 'another class' => ['{"message":"SplFileObject","with":{"filename":"/etc/passwd"}}'];
        yield 'one of ours that is no message' => ['{"message":"Ypomna\\\\App\\\\Capture\\\\CaptureFailed","with":["x"]}'];
        yield 'the interface' => ['{"message":"Ypomna\\\\App\\\\Shared\\\\Queue\\\\QueuedMessage","with":{}}'];
        yield 'a value of another kind' => ['{"message":"Ypomna\\\\App\\\\Capture\\\\Message\\\\CapturePage","with":{"jobId":"7 OR 1"}}'];
        yield 'a value too many' => ['{"message":"Ypomna\\\\App\\\\Capture\\\\Message\\\\CapturePage","with":{"jobId":7,"more":1}}'];
        yield 'a value too few' => ['{"message":"Ypomna\\\\App\\\\Capture\\\\Message\\\\CapturePage","with":{}}'];
        yield 'deep' => [str_repeat('[', 5_000).str_repeat(']', 5_000)];
        yield 'no text at all' => [''];
    }

    private function next(): ?int
    {
        foreach ($this->queue->get() as $envelope) {
            $message = $envelope->getMessage();
            self::assertInstanceOf(CapturePage::class, $message);

            return $message->jobId;
        }

        return null;
    }

    private function leasedBy(string $who, int $seconds): void
    {
        self::service(Connection::class)->executeStatement(
            'UPDATE queue_message SET leased_by = ?, leased_until = UTC_TIMESTAMP(6) + INTERVAL ? SECOND', [$who, $seconds],
        );
    }

    private function worker(): TableTransport
    {
        return new TableTransport(self::service(Connection::class), new JsonMessages(), 60, function (Envelope $envelope): void {
            $this->givenUp[] = $envelope->getMessage();
        });
    }
}
