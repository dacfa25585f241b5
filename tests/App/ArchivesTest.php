<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Archives\FetchMementoHandler;
use Ypomna\App\Archives\InvalidArchive;
use Ypomna\App\Archives\Message\FetchMemento;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Shared\Actor;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/** Other archives: which are known, and what happens where they cannot be asked. */
final class ArchivesTest extends AppTestCase
{
    #[DataProvider('refused')]
    public function testWhatCannotBeAskedIsNotEntered(string $name, string $gate, string $map, string $why): void
    {
        try {
            self::service(OtherArchives::class)->add(new Actor('Tomas Okoye'), $name, $gate, $map);
            self::fail('It was entered.');
        } catch (InvalidArchive $e) {
            self::assertStringContainsString($why, $e->trans(self::service(TranslatorInterface::class)));
        }
    }

    /** @return iterable<array{string, string, string, string}> */
    public static function refused(): iterable
    {
        yield [' ', 'http://a.test/', '', 'needs a name'];
        yield ['A', '', ' ', 'TimeGate'];
        yield ['A', 'gopher://a.test/', '', '“gopher://a.test/” is not a web address'];
        yield ['A', 'http://a.test/', '/list/', '“/list/” is not a web address'];
        yield ['A', 'http://a.test/'.str_repeat('x', 600), '', 'is not a web address'];
    }

    public function testAnAddressStandsBehindTheServiceOrWhereItIsSaid(): void
    {
        $url = Url::parse('http://lantern.test/a?x=1&y=2');
        self::assertSame('http://a.test/gate/http://lantern.test/a?x=1&y=2', (string) OtherArchives::asking('http://a.test/gate/', $url));
        self::assertSame(
            'http://a.test/gate?of=http%3A%2F%2Flantern.test%2Fa%3Fx%3D1%26y%3D2&n=1',
            (string) OtherArchives::asking('http://a.test/gate?of={url}&n=1', $url),
        );
    }

    /** The operator's network is nobody's archive: neither as such, nor as what a request is made to fetch. */
    #[DataProvider('closed')]
    public function testTheGuardStandsBeforeArchivesToo(string $address): void
    {
        $archives = self::service(OtherArchives::class);
        $archives->add(new Actor('Tomas Okoye'), 'Inside', '', $address);
        [$told] = $archives->whatTheyHold(Url::parse('http://lantern.test/'));
        self::assertSame([], $told->held);
        self::assertStringContainsString('closed network', (string) $told->error);

        $desk = self::service(Arrivals::class);
        $arrival = $desk->expect(new Actor('Tomas Okoye'), 'x.warc.gz');
        self::service(FetchMementoHandler::class)
            ->handle(new FetchMemento((int) $arrival->id, $told->archive->code, 'http://lantern.test/', $address.'x'));
        self::assertSame(ArrivalState::Refused, $arrival->state);
        self::assertStringContainsString('closed network', (string) $arrival->message);
        self::assertDirectoryDoesNotExist(\dirname($desk->place($arrival)).'/none');
    }

    /** @return iterable<array{string}> */
    public static function closed(): iterable
    {
        foreach ([
            'http://127.0.0.1:8021/', 'http://[::1]/', 'http://169.254.169.254/', 'http://2130706433/', 'http://[::ffff:10.0.0.1]/',
        ] as $address) {
            yield $address => [$address];
        }
    }

    public function testChangesWithoutTheTokenAreRefused(): void
    {
        foreach (['/archives', '/elsewhere'] as $path) {
            $this->client->request(
                'POST', $path, ['name' => 'A', 'gate' => 'http://a.test/', 'url' => 'http://lantern.test/', 'held' => ['x http://a.test/']],
            );
            self::assertSame(403, $this->answered(), $path);
        }
        self::assertSame([], self::service(OtherArchives::class)->all());
        $this->get('/elsewhere?q=');
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('No other archive is asked.', $this->get('/elsewhere?q=lantern.test'));
    }

    public function testTasksRunSideBySideUntilTheTimeIsOver(): void
    {
        $wait = static function (float $seconds, string $then): string {
            $suspension = \Revolt\EventLoop::getSuspension();
            \Revolt\EventLoop::delay($seconds, static fn () => $suspension->resume());
            $suspension->suspend();

            return $then;
        };
        $begun = hrtime(true);
        $done = Concurrently::run(
            [
                'a' => static fn (): string => $wait(0.2, 'a'),
                'b' => static fn (): string => $wait(0.2, 'b'),
                'slow' => static fn (): string => $wait(5.0, 'slow'),
                'bad' => static fn (): string => throw new FetchFailed(FailureReason::Refused, 'No.'),
            ],
            0.5,
        );
        self::assertLessThan(2e9, hrtime(true) - $begun);
        self::assertSame(['a', 'b'], [$done['a'], $done['b']]);
        self::assertInstanceOf(FetchFailed::class, $done['slow']);
        self::assertSame(FailureReason::Timeout, $done['slow']->reason);
        self::assertSame('No.', $done['bad'] instanceof FetchFailed ? $done['bad']->getMessage() : '');
        self::assertSame([0, 1, 2], Concurrently::run([static fn (): int => 0, static fn (): int => 1, static fn (): int => 2], 2.0, 1));
    }
}
