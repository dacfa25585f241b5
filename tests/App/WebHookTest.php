<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Symfony\Component\Messenger\Stamp\StampInterface;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\HookCaller;
use Ypomna\App\Watch\Message\CallHook;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\EventLine;
use Ypomna\App\Watch\Value\SettingsWish;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\App\Watch\WatchSettingsRepository;
use Ypomna\Core\Recurrence\ChangeNotice;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Listening;

/** What others are told of an event, over a socket: signed, tried again, and not at night. */
final class WebHookTest extends AppTestCase
{
    private Listening $other;
    private WatchEvents $events;
    private Watch $watch;
    /** @var list<int> delays in milliseconds of what was sent on to be tried again */
    private array $again = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->other = new Listening(new Folder());
        $this->events = self::service(WatchEvents::class);
        $this->watch = self::service(WatchRequests::class)->begin(
            new Actor('The archivist'), Viewer::system(), new WatchWish(WatchScope::Address, 'http://lantern.test/fares', 'Fares'),
        );
        $this->watch->hookUrl = 'http://hooks.example/in?room=7#here';
        self::service(WatchRequests::class)->save($this->watch);
    }

    public function testTheOtherSideCanTellWhoSentItAndThatNothingWasAltered(): void
    {
        $this->other->answers('/in?room=7', 'thanks', 204);
        $event = $this->event();
        $this->call($event);
        [$sent] = $this->other->sent();
        self::assertSame(['POST', '/in?room=7', 'application/json'], [$sent['method'], $sent['path'], $sent['fields']['content-type']]);

        $told = json_decode($sent['body'], true);
        self::assertIsArray($told);
        self::assertSame(
            ['changed', 'http://lantern.test/fares', '12.50 "now"', '13.00 <later>'],
            [$told['kind'] ?? null, $told['url'] ?? null, $told['before'] ?? null, $told['after'] ?? null],
        );

        // As the standard has it (RFC 9421, section 3.2), by whoever has the secret.
        self::assertSame('sha-256=:'.base64_encode(hash('sha256', $sent['body'], true)).':', $sent['fields']['content-digest']);
        self::assertSame(
            1, preg_match('/^sig=(\((.*)\);created=(\d+);keyid="([^"]+)";alg="hmac-sha256")$/', $sent['fields']['signature-input'], $m),
        );
        self::assertSame($this->watch->code, $m[4]);
        self::assertEqualsWithDelta(time(), (int) $m[3], 30);
        $lines = [];
        foreach (explode(' ', $m[2]) as $component) {
            $lines[] = $component.': '.match ($component) {
                '"@method"' => $sent['method'],
                '"@target-uri"' => 'http://hooks.example/in?room=7',
                default => $sent['fields'][trim($component, '"')],
            };
        }
        $base = implode("\n", [...$lines, '"@signature-params": '.$m[1]]);
        self::assertSame(
            'sig=:'.base64_encode(hash_hmac('sha256', $base, $this->watch->hookSecret, true)).':', $sent['fields']['signature'],
        );
        self::assertStringContainsString('"ypomna-event-id": '.$event->id."\n", $base);
        self::assertStringContainsString('"ypomna-event-time": '.$event->at->format('Y-m-d\TH:i:s\Z')."\n", $base);
        self::assertNotSame(
            'sig=:'.base64_encode(hash_hmac('sha256', str_replace('room=7', 'room=8', $base), $this->watch->hookSecret, true)).':',
            $sent['fields']['signature'],
        );

        self::assertNotNull($this->events->byId($event->id)?->hookedAt);
        $this->call($event);
        self::assertCount(1, $this->other->sent(), 'once it was taken it is not sent again');
        self::assertSame([], $this->again);
    }

    public function testWhatIsNotTakenIsTriedAgainAtGrowingDistances(): void
    {
        $this->other->answers('/in?room=7', 'down', 503);
        $event = $this->event();
        for ($n = 0; $n < 5; ++$n) {
            $this->call($event);
        }
        self::assertSame([60_000, 600_000, 3_600_000], $this->again);
        self::assertStringContainsString('503', (string) $this->events->byId($event->id)?->hookSaid);
        self::assertStringContainsString('It answered with status 503.', $this->get('/events'));
    }

    public function testQuietHoursHoldForWebHooks(): void
    {
        $this->other->answers('/in?room=7', 'thanks');
        $now = self::service(ClockInterface::class)->now()->setTimezone(new \DateTimeZone('UTC'));
        self::service(WatchSettingsRepository::class)->set(
            new Actor('Tomas Okoye'), new SettingsWish(
                100, '', '08:00', $now->modify('-1 hour')->format('H:i'), $now->modify('+1 hour')->format('H:i'), 'UTC',
            ),
        );
        $event = $this->event();
        $this->call($event);
        self::assertSame([[], [900_000]], [$this->other->sent(), $this->again]);
        self::assertNull($this->events->byId($event->id)?->hookedAt);
    }

    public function testWithoutAWatchOrAnEventThereIsNothingToSend(): void
    {
        $event = $this->event();
        $this->caller()->call(new CallHook($event->id + 1_000));
        $this->watch->hookUrl = null;
        self::service(WatchRequests::class)->save($this->watch);
        $this->call($event);
        self::assertSame([[], []], [$this->other->sent(), $this->again]);
    }

    private function event(): EventLine
    {
        $this->events->enter(
            $this->watch, EventKind::Changed, null, 'http://lantern.test/fares', new ChangeNotice('12.50 "now"', '13.00 <later>'),
        );

        return $this->events->events(Viewer::system())[0];
    }

    private function call(EventLine $event): void
    {
        $this->caller()->call(new CallHook($event->id));
    }

    private function caller(): HookCaller
    {
        $bus = new class(function (int $delay): void {
            $this->again[] = $delay;
        }) implements MessageBusInterface {
            /** @param \Closure(int): void $told */
            public function __construct(private readonly \Closure $told)
            {
            }

            public function dispatch(object $message, array $stamps = []): Envelope
            {
                foreach ($stamps as $stamp) {
                    \assert($stamp instanceof StampInterface);
                    if ($stamp instanceof DelayStamp) {
                        ($this->told)($stamp->getDelay());
                    }
                }

                return new Envelope($message, $stamps);
            }
        };

        return new HookCaller(
            $this->events, self::service(WatchRequests::class), self::service(WatchSettingsRepository::class), $this->other->web(),
            self::service(UrlGeneratorInterface::class), $bus, self::service(ClockInterface::class),
        );
    }
}
