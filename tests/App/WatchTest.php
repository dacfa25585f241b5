<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\NullLogger;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\Mailer\Envelope;
use Symfony\Component\Mailer\Exception\TransportException;
use Symfony\Component\Mailer\MailerInterface;
use Symfony\Component\Mime\Email;
use Symfony\Component\Mime\RawMessage;
use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Environment;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\Event\AddressChecked;
use Ypomna\App\Liveness\Event\CheckBegins;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Console\ScheduleCommand;
use Ypomna\App\Watch\Digest;
use Ypomna\App\Watch\DueWatches;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\HookCaller;
use Ypomna\App\Watch\Message\CallHook;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\EventLine;
use Ypomna\App\Watch\Value\SettingsWish;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchSettings;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\App\Watch\WatchedPages;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\App\Watch\WatchSettingsRepository;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Recurrence\ChangeNotice;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Tests\Support\TestClock;
use Ypomna\Tests\Support\WarcBuilder;

/** Pages that are looked at again by themselves, and what is told of them. */
final class WatchTest extends AppTestCase
{
    private const URL = 'http://lantern.test/fares';
    private const PAGE = '<title>Fares</title><h1>Fares</h1><p>A crossing is 12.50 for grown-ups and 6.00 for children in this season of'
        .' the year.</p><table><tr><th>To<th>Adult<tr><td>Hollin<td>12.50</table><p>Page made %s</p>';

    private WatchRequests $requests;
    private WatchedPages $pages;
    private WatchEvents $events;

    protected function tearDown(): void
    {
        unset($_SERVER['WEB_ROUTES']);
        parent::tearDown();
    }

    protected function setUp(): void
    {
        parent::setUp();
        $this->requests = self::service(WatchRequests::class);
        $this->pages = self::service(WatchedPages::class);
        $this->events = self::service(WatchEvents::class);
    }

    public function testAChangeOfSubstanceIsKeptAndToldWithItsComparison(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(self::URL, '2025-01-01T10:00:00Z', self::fares('1 January')));
        $watch = $this->watch();
        $this->check(self::fares('2 January'));
        $this->check(self::fares('3 January'));
        self::assertSame([], $this->told(), 'a line of making is noise');
        self::assertSame(0, $this->jobs());
        $this->check(str_replace('12.50', '13.00', self::fares('4 January')));
        self::assertSame(1, $this->jobs(), 'it is kept');
        self::assertSame([], $this->told(), 'and told when it is');
        $this->check(str_replace('12.50', '13.00', self::fares('5 January')));
        self::assertSame(1, $this->jobs());

        $this->takeIn(
            (new WarcBuilder())->exchange(self::URL, '2025-01-04T10:00:00Z', str_replace('12.50', '13.00', self::fares('4 January'))),
            'b.warc.gz',
        );
        $code = $this->captureOf(self::URL, '2025-01-04')->code;
        self::service(Connection::class)->executeStatement("UPDATE capture_job SET stage = 'done', capture_code = ?", [$code]);
        self::service(DueWatches::class)->queueDue();
        [$event] = $this->told();
        self::assertSame([EventKind::Changed, $code], [$event->kind, $event->captureAfter]);
        self::assertStringContainsString('12.50', $event->before);
        $shown = $this->get('/events');
        self::assertStringContainsString('/compare/'.$this->captureOf(self::URL, '2025-01-01')->code.'/'.$code, $shown);
        self::assertStringContainsString('aria-label="one new event"', $shown);
        self::assertStringContainsString('It changed in 1 of 3 checks', $this->get('/watches/'.$watch->code));
        $this->client->request('POST', '/events', ['_token' => $this->token('/events'), 'up_to' => $event->id]);
        self::assertStringEndsWith('/events?was=0', $this->header('Location'));
        $shown = $this->get('/events?was=0');
        self::assertStringNotContainsString('new event"', $shown);
        self::assertStringContainsString('name="back_to" value="0"', $shown);
        // Somebody else has not looked yet, and may, whatever their role.
        $this->signIn('Nerys Quill', Role::Reader);
        self::assertStringContainsString('aria-label="one new event"', $this->get('/events'));
        $this->client->request('POST', '/events', ['_token' => $this->token('/events'), 'up_to' => $event->id + 1_000]);
        self::assertStringNotContainsString('new event"', $this->get('/events'));
        $this->client->request('POST', '/events', ['_token' => $this->token('/events'), 'back_to' => 0]);
        self::assertStringContainsString('aria-label="one new event"', $this->get('/events'));
        // What comes later is new, whatever number was said.
        $this->client->request('POST', '/events', ['_token' => $this->token('/events'), 'up_to' => 1_000_000]);
        $this->events->enter($watch, EventKind::Vanished, null, self::URL, new ChangeNotice('', 'Gone.'));
        self::assertStringContainsString('aria-label="one new event"', $this->get('/events'));
    }

    public function testOnlyWhatTheConditionNamesIsTold(): void
    {
        $this->watch(new Condition(ConditionKind::Cell, 'Hollin', 'Adult'));
        $this->check(self::fares('x'));
        $this->check(str_replace('this season of the year', 'summer', self::fares('x')));
        self::assertSame([], $this->told());
        $this->check(str_replace('<td>12.50', '<td>14.00', self::fares('x')));
        self::assertSame(['12.50', '14.00'], [$this->told()[0]->before, $this->told()[0]->after]);
    }

    public function testAConditionThatCannotBeMetIsToldSo(): void
    {
        $watch = $this->watch(new Condition(ConditionKind::Part, '#prices'));
        $this->check(self::fares('x'));
        self::assertStringContainsString('does not have what the condition names', $this->get('/watches/'.$watch->code));
    }

    public function testVanishingIsToldOnceAndComingBackAsWell(): void
    {
        $this->watch();
        $this->check(self::fares('x'));
        $this->check('', LiveReason::NotFound, false);
        self::assertSame([], $this->told(), 'not after one look');
        $this->check('', LiveReason::NotFound, true);
        $this->check('', LiveReason::NotFound, true);
        self::assertSame([EventKind::Vanished], array_map(static fn (EventLine $one): EventKind => $one->kind, $this->told()));
        $this->check(self::fares('x'));
        self::assertSame(
            [EventKind::Returned, EventKind::Vanished], array_map(static fn (EventLine $one): EventKind => $one->kind, $this->told()),
        );
    }

    public function testAServerMaySayThatNothingChanged(): void
    {
        $this->watch();
        self::assertSame('', $this->conditions());
        $this->check(self::fares('x'), etag: '"v1"');
        self::assertSame("If-None-Match: \"v1\"\r\nIf-Modified-Since: Mon, 03 Mar 2025 10:00:00 GMT\r\n", $this->conditions());
        $this->check('', status: 304);
        self::assertEquals([[1.0, 0]], $this->page0()->seen);
        $this->check(self::fares('x'), etag: '"'.str_repeat('x', 600).'"');
        self::assertStringNotContainsString('xxx', $this->conditions());
    }

    public function testAPageMadeByScriptsIsKeptByABrowserEachTime(): void
    {
        $watch = $this->watch();
        $this->check('<div id=root></div><script src=a.js></script>');
        self::assertSame(1, $this->jobs());
        self::assertStringContainsString('Scripts make its text', $this->get('/watches/'.$watch->code));
        $this->check('<div id=root></div><script src=a.js></script>');
        self::assertSame(1, $this->jobs(), 'not while one is under way');
    }

    public function testWhatCapturesToldBeforeCounts(): void
    {
        $warc = new WarcBuilder();
        foreach (['01', '03', '09', '20'] as $n => $day) {
            $warc->exchange(
                self::URL, "2025-01-{$day}T10:00:00Z", str_replace('12.50', 1 === $n % 2 ? '13.50' : '12.50', self::fares('x')),
            );
        }
        $this->takeIn($warc);
        $this->watch();
        self::assertEquals([[2.0, 1], [6.0, 1], [11.0, 1]], $this->page0()->seen);
        self::service(DueWatches::class)->plan(500.0, new \DateTimeImmutable());
        self::assertLessThan(1.1, $this->page0()->intervalDays);
    }

    public function testABudgetIsSharedOut(): void
    {
        foreach (['busy' => 1, 'quiet' => 0] as $name => $changed) {
            $watch = $this->requests->begin(
                new Actor('The archivist'), Viewer::system(),
                new WatchWish(WatchScope::Address, 'http://lantern.test/'.$name),
            );
            $page = $this->pages->pages($watch)[0];
            $this->pages->update(
                $page->id, ['seen' => json_encode(array_fill(0, 12, [3.0, $changed])), 'checked_at' => '2025-03-01 00:00:00'],
            );
        }
        self::service(DueWatches::class)->plan(0.2, new \DateTimeImmutable('2025-03-01'));
        $intervals = array_map(fn (Watch $watch): float => $this->pages->pages($watch)[0]->intervalDays, self::made(Watch::class));
        self::assertEqualsWithDelta(0.2, 1 / $intervals[0] + 1 / $intervals[1], 0.02);
    }

    public function testMissedLooksAreMadeUpForOnce(): void
    {
        $this->watch();
        $this->check(self::fares('x'));
        TestClock::forward('1 year');
        self::assertSame(1, self::service(DueWatches::class)->queueDue());
        self::assertSame(0, self::service(DueWatches::class)->queueDue(), 'it is wanted already');
    }

    public function testFoldersAndHostsGatherWhatIsHeld(): void
    {
        $this->takeIn((new WarcBuilder())->exchange(
            'http://lantern.test/a/1', '2025-01-01T10:00:00Z', '<p>x',
        )->exchange(
            'http://lantern.test/a/2', '2025-01-01T10:00:00Z', '<p>x',
        )->exchange('http://lantern.test/b', '2025-01-01T10:00:00Z', '<p>x')->exchange(
            'http://cdn.lantern.test/a/1', '2025-01-01T10:00:00Z', '<p>x',
        ));
        $who = new Actor('The archivist');
        $urls = fn (Watch $watch): array => array_map(static fn ($page): string => $page->url, $this->pages->pages($watch));
        self::assertSame(
            ['http://lantern.test/a/', 'http://lantern.test/a/1', 'http://lantern.test/a/2'],
            $urls($this->requests->begin($who, Viewer::system(), new WatchWish(WatchScope::Folder, 'http://lantern.test/a/'))),
        );
        self::assertSame(
            ['http://lantern.test/', 'http://lantern.test/a/1', 'http://lantern.test/a/2', 'http://lantern.test/b'],
            $urls($this->requests->begin($who, Viewer::system(), new WatchWish(WatchScope::Host, 'http://lantern.test/'))),
        );
    }

    public function testReminders(): void
    {
        $watch = $this->watch();
        $watch->dueAt = new \DateTimeImmutable('2020-01-01');
        $watch->dueNote = 'Ask <Edda>';
        $this->requests->save($watch);
        self::service(DueWatches::class)->queueDue();
        self::service(DueWatches::class)->queueDue();
        self::assertSame([EventKind::Reminder], array_map(static fn (EventLine $one): EventKind => $one->kind, $this->told()));
        self::assertStringContainsString('Ask &lt;Edda&gt;', $this->get('/events'));
    }

    public function testTheFeed(): void
    {
        $watch = $this->watch();
        $this->events->enter($watch, EventKind::Changed, null, 'http://lantern.test/?a=1&b=2', new ChangeNotice('<b>', ']]> & x'));
        $feed = simplexml_load_string($this->get('/events.atom'));
        self::assertNotFalse($feed);
        self::assertStringContainsString('application/atom+xml', $this->header('Content-Type'));
        self::assertStringContainsString('http://lantern.test/?a=1&b=2', (string) $feed->entry->title);
        self::assertStringContainsString('+ ]]> & x', (string) $feed->entry->content);
        $this->client->request('GET', '/events.atom', server: ['HTTP_IF_NONE_MATCH' => $this->header('ETag')]);
        self::assertSame(304, $this->answered());
    }

    public function testNoSignOfAPageSteersTheFeedOrTheMail(): void
    {
        $watch = $this->watch();
        $watch->name = "Fares\e]0;x\x07\u{202E}";
        $this->requests->save($watch);
        $this->events->enter(
            $watch,
            EventKind::Changed,
            null,
            "http://lantern.test/\u{202E}",
            new ChangeNotice("\e[2J\x00was\x08", "is\r\n.\r\nBcc: x\u{9b}31m"),
        );
        $feed = $this->get('/events.atom');
        self::assertNotFalse(simplexml_load_string($feed), 'XML 1.0 has no control characters');
        self::assertSame(0, preg_match('/[\x00-\x08\x0B\x0C\x0E-\x1F\x7F]|&#x?0*(?:[0-8]|1[0-9a-f]?);|\x{9b}|\x{202e}/ui', $feed));
        $sent = '';
        $mailer = new class(static function (string $mail) use (&$sent): void {
            $sent = $mail;
        }) implements MailerInterface {
            /** @param \Closure(string): void $told */
            public function __construct(private readonly \Closure $told)
            {
            }

            public function send(RawMessage $message, ?Envelope $envelope = null): void
            {
                ($this->told)($message instanceof Email ? (string) $message->getSubject()."\n".$message->getTextBody() : '');
            }
        };
        $settings = self::service(WatchSettingsRepository::class);
        $settings->set(new Actor('Tomas Okoye'), new SettingsWish(100, 'ilse@watchdog.example', '00:00', '', '', 'UTC'));
        $digest = new Digest(
            $this->events, $settings, $mailer, self::service(Environment::class), self::service(TranslatorInterface::class),
            self::service(ClockInterface::class), new NullLogger(), 'ypomna@localhost.example',
        );
        self::assertTrue($digest->send());
        self::assertStringContainsString('Bcc: x', $sent);
        self::assertSame(0, preg_match('/[\x00-\x08\x0B-\x1F\x7F\x{80}-\x{9f}\x{202e}]/u', $sent));
    }

    public function testSessionsAreCollected(): void
    {
        $options = self::getContainer()->getParameter('session.storage.options');
        self::assertIsArray($options);
        self::assertGreaterThan(0, $options['gc_probability'] ?? 0);
        self::assertGreaterThan(0, $options['gc_maxlifetime'] ?? 0);
    }

    public function testTheDigest(): void
    {
        $settings = self::service(WatchSettingsRepository::class);
        $this->events->enter($this->watch(), EventKind::Vanished, null, self::URL, new ChangeNotice('', 'Gone.'));
        self::assertFalse(self::service(Digest::class)->send(), 'nobody to send it to');
        $settings->set(new Actor('Tomas Okoye'), new SettingsWish(100, 'ilse@watchdog.example', '00:00', '00:00', '23:59', 'UTC'));
        self::assertFalse(self::service(Digest::class)->send(), 'quiet hours');
        $settings->set(new Actor('Tomas Okoye'), new SettingsWish(100, 'ilse@watchdog.example', '00:00', '', '', 'UTC'));
        self::assertTrue(self::service(Digest::class)->send());
        self::assertFalse(self::service(Digest::class)->send(), 'once a day');
        self::assertSame([], $this->events->toMail(10));
        $mail = self::getMailerMessage();
        self::assertNotNull($mail);
        self::assertStringContainsString('VANISHED  '.self::URL, $mail->toString());
    }

    /** A web hook leads nowhere where a person's own requests would not be let. */
    #[DataProvider('closed')]
    public function testTheGuardStandsBeforeWebHooks(string $address): void
    {
        $watch = $this->watch();
        $watch->hookUrl = $address;
        $this->events->enter($watch, EventKind::Changed, null, self::URL, new ChangeNotice('a', 'b'));
        self::service(HookCaller::class)->call(new CallHook($this->told()[0]->id));
        self::assertStringContainsString('closed network', (string) $this->told()[0]->hookSaid);
        self::assertNull($this->told()[0]->hookedAt);
        self::assertStringContainsString('Web hook:', $this->get('/events'));
    }

    /** @return iterable<array{string}> */
    public static function closed(): iterable
    {
        yield ['http://127.0.0.1:8021/'];
        yield ['http://169.254.169.254/latest'];
        yield ['http://[::1]/x'];
    }

    public function testQuietHours(): void
    {
        $at = static fn (string $from, string $to, string $time, string $zone = 'UTC'): bool =>
            (new WatchSettings(1, 0, null, '', '08:00', $from, $to, $zone, null))
                ->isQuiet(new \DateTimeImmutable('2025-01-10 '.$time, new \DateTimeZone('UTC')));
        self::assertSame(
            [true, true, false, false],
            [
                $at('22:00', '07:00', '23:30'),
                $at('22:00', '07:00', '06:59'),
                $at('22:00', '07:00', '07:00'),
                $at('22:00', '07:00', '12:00'),
            ],
        );
        self::assertSame([true, false, false], [$at('12:00', '14:00', '13:00'), $at('12:00', '14:00', '14:00'), $at('', '', '03:00')]);
        self::assertTrue($at('22:00', '23:00', '20:30', 'Europe/Athens'));
        $settings = new WatchSettings(1, 0, null, '', '08:00', '', '', 'Europe/Athens', null);
        self::assertEquals(
            new \DateTimeImmutable('2025-01-10 06:00 UTC'), $settings->lastDigest(new \DateTimeImmutable('2025-01-10 06:00 UTC')),
        );
        self::assertEquals(
            new \DateTimeImmutable('2025-01-09 06:00 UTC'), $settings->lastDigest(new \DateTimeImmutable('2025-01-10 05:59 UTC')),
        );
    }

    /** @param array<string, string> $form */
    #[DataProvider('wrong')]
    public function testWhatIsWrongIsNamed(array $form, string $why): void
    {
        $this->client->request('POST', '/watches', ['_token' => $this->token('/watches'), 'target' => 'lantern.test/a'] + $form);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString($why, $this->body());
        self::assertSame([], self::made(Watch::class));
    }

    /** @return iterable<array{array<string, string>, string}> */
    public static function wrong(): iterable
    {
        yield [['condition' => 'phrase-comes'], 'Say which phrase.'];
        yield [['condition' => 'part', 'text' => '#a[b'], 'cannot be used in a selector'];
        yield [['often' => 'hand', 'every' => '0'], 'Say how often'];
        yield [['often' => 'hand', 'every' => 'x'], 'Say how often'];
        yield [['hook' => 'ftp://x.test/'], 'web hook needs an address'];
        yield [['hook' => 'http://127.0.0.1/in'], 'The web hook cannot be called there'];
        yield [['hook' => 'http://[::ffff:10.0.0.1]/in'], 'closed network'];
        yield [['hook' => 'http://168.63.129.16/in'], 'closed network'];
        yield [['hook' => 'http://0x7f.1/in'], 'closed network'];
        yield [['due' => '3.4.2025'], 'not a date'];
    }

    public function testAHookThatIsChangedIsHeldAgainstTheGuardToo(): void
    {
        $watch = $this->requests->begin(
            new Actor('The archivist'), Viewer::system(), new WatchWish(WatchScope::Address, self::URL),
        );
        $path = '/watches/'.$watch->code;
        $this->client->request(
            'POST', $path, ['_token' => $this->token($path), 'act' => 'save', 'hook' => 'http://169.254.169.254/latest'],
        );
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('closed network', $this->body());
        self::assertNull(self::made(Watch::class)[0]->hookUrl);
    }

    public function testTheWayThroughTheScreens(): void
    {
        $_SERVER['WEB_ROUTES'] = 'hook.example:443:127.0.0.1';
        self::assertStringContainsString('Nothing is watched yet.', $this->get('/watches'));
        $this->client->request(
            'POST',
            '/watches',
            [
                '_token' => $this->token('/watches'), 'target' => 'lantern.test/<b>', 'scope' => 'address', 'often' => 'hand',
                'every' => '36', 'unit' => 'hours', 'keeps' => '1', 'hook' => 'https://hook.example/x', 'due' => '2031-01-02',
            ],
        );
        self::assertSame(303, $this->answered());
        $path = $this->header('Location');
        $shown = $this->get($path);
        self::assertStringContainsString('It is checked every 36 hours, as you set it.', $shown);
        self::assertStringContainsString('value="2031-01-02"', $shown);
        foreach (['pause' => 'Paused', 'go-on' => 'Watched', 'end' => 'Ended'] as $act => $word) {
            $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => $act]);
            self::assertMatchesRegularExpression('~<p class="verdict" role="status">\s*'.$word.'~', $this->get($path));
        }
        $this->client->request('POST', $path, ['act' => 'pause']);
        self::assertSame(403, $this->answered());
        $this->client->request('POST', '/watches/settings', ['_token' => $this->token('/watches'), 'budget' => 'many']);
        self::assertSame(422, $this->answered());
        $this->client->request(
            'POST',
            '/watches/settings',
            [
                '_token' => $this->token('/watches'), 'budget' => '40', 'mail_to' => 'x@y.example', 'digest_at' => '07:30',
                'quiet_from' => '22:00', 'quiet_to' => '06:00',
            ],
        );
        self::assertSame(303, $this->answered());
        self::assertSame(40.0, self::service(WatchSettingsRepository::class)->read()->budget);
    }

    public function testWhatIsChangedOnTheScreenHolds(): void
    {
        $watch = $this->watch();
        $path = '/watches/'.$watch->code;
        $this->client->request(
            'POST',
            $path,
            [
                '_token' => $this->token($path), 'act' => 'save', 'name' => 'Fares of the Sound', 'condition' => 'phrase-comes',
                'text' => 'season ticket', 'often' => 'found', 'due' => '2031-05-04', 'due_note' => 'Ask', 'scope' => 'host',
                'target' => 'http://evil.test/',
            ],
        );
        self::assertSame(303, $this->answered());
        $shown = $this->get($path);
        self::assertStringContainsString('Fares of the Sound', $shown);
        self::assertStringContainsString('value="season ticket"', $shown);
        self::assertStringContainsString('value="2031-05-04"', $shown);
        self::assertSame(
            [self::URL, WatchScope::Address],
            [self::made(Watch::class)[0]->target, self::made(Watch::class)[0]->scope],
            'what is watched stays',
        );
        $this->client->request(
            'POST', $path, ['_token' => $this->token($path), 'act' => 'save', 'condition' => 'phrase-comes', 'text' => ''],
        );
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('Say which phrase.', $this->body());
        $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => 'now']);
        self::assertSame(1, self::service(DueWatches::class)->queueDue(), 'looked at as soon as may be');
        $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => 'dance']);
        self::assertSame(404, $this->answered());
        $this->get('/watches/'.str_repeat('z', 12));
        self::assertSame(404, $this->answered());
    }

    public function testAPageMadeByScriptsIsComparedOnceItIsKept(): void
    {
        $watch = $this->watch();
        $page = static fn (string $text): string => '<title>Berths</title><h1>Berths</h1><p>'.$text
            .' A berth costs fourteen for small boats and twenty-one for others, water included.</p>';
        $this->takeIn((new WarcBuilder())->exchange(self::URL, '2025-01-01T10:00:00Z', $page('Four are free.')));
        $this->check('<div id=root></div><script src=a.js></script>');
        $this->takeIn(
            (new WarcBuilder())->exchange(self::URL, '2025-01-02T10:00:00Z', $page('None is free until the regatta is over.')), 'b.warc.gz',
        );
        $after = $this->captureOf(self::URL, '2025-01-02')->code;
        self::service(Connection::class)->executeStatement("UPDATE capture_job SET stage = 'done', capture_code = ?", [$after]);
        self::service(DueWatches::class)->queueDue();
        [$event] = $this->told();
        self::assertSame(
            [EventKind::Changed, $this->captureOf(self::URL, '2025-01-01')->code, $after],
            [$event->kind, $event->captureBefore, $event->captureAfter],
        );
        self::assertMatchesRegularExpression('/Four are free\.|None is free/', $event->before.$event->after);

        $this->check('<div id=root></div><script src=a.js></script>');
        self::service(Connection::class)->executeStatement(
            "UPDATE capture_job SET stage = 'failed', reason = 'timeout' WHERE stage <> 'done'",
        );
        self::service(DueWatches::class)->queueDue();
        self::assertCount(1, $this->told(), 'what could not be kept tells nothing of the page');
        self::assertNotNull($this->page0()->trouble);
        self::assertStringContainsString('The last change could not be captured.', $this->get('/watches/'.$watch->code));
    }

    public function testTheScheduleLooksOnceAndEnds(): void
    {
        $this->watch();
        TestClock::forward('1 year');
        $command = new CommandTester(self::service(ScheduleCommand::class));
        self::assertSame(0, $command->execute(['--once' => true], ['verbosity' => OutputInterface::VERBOSITY_VERBOSE]));
        self::assertStringContainsString('Due checks: 1.', $command->getDisplay());
        $command->execute(['--once' => true], ['verbosity' => OutputInterface::VERBOSITY_VERBOSE]);
        self::assertStringContainsString('Due checks: 0.', $command->getDisplay());
    }

    public function testWhatWasToldCanBeGoneThroughAllTheWayBack(): void
    {
        $watch = $this->watch();
        for ($n = 1; $n <= WatchEvents::PAGE + 3; ++$n) {
            $this->events->enter($watch, EventKind::Changed, null, self::URL.'?n='.$n, new ChangeNotice("old {$n}.", "new {$n}."));
        }
        $other = $this->requests->begin(
            new Actor('The archivist'), Viewer::system(),
            new WatchWish(WatchScope::Address, 'http://lantern.test/other'),
        );
        $this->events->enter($other, EventKind::Vanished, null, 'http://lantern.test/other', new ChangeNotice('', 'Gone.'));
        self::assertSame(WatchEvents::PAGE + 4, $this->events->unseen(Viewer::system()));
        $all = $this->events->events(Viewer::system());
        self::assertCount(WatchEvents::PAGE, $all);
        $rest = $this->events->events(Viewer::system(), before: $all[\count($all) - 1]->id);
        self::assertSame(['old 4.', 'old 3.', 'old 2.', 'old 1.'], array_map(static fn (EventLine $one): string => $one->before, $rest));
        self::assertCount(1, $this->events->events(Viewer::system(), $other));
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        self::assertSame(0, $this->events->seen($reader, $rest[2]->id));
        // Older ones that are gone through again make no newer one new.
        self::assertSame($rest[2]->id, $this->events->seen($reader, $rest[3]->id));
        self::assertSame($rest[2]->id, $this->events->seen($reader, $rest[1]->id));
        self::assertSame(WatchEvents::PAGE + 1, $this->events->unseen($reader));
        self::assertSame(WatchEvents::PAGE + 4, $this->events->unseen(Viewer::person('Tomas Okoye', Role::Custodian)));
        self::assertSame(0, $this->events->unseen(Viewer::nobody()));
        self::assertSame(
            [$rest[0]->id],
            array_map(static fn (EventLine $one): int => $one->id, $this->events->events($reader, before: $rest[0]->id + 1, new: true)),
        );
        self::assertSame(
            [true, false], array_map(
                static fn (EventLine $one): bool => $one->isNew, $this->events->events($reader, before: $rest[0]->id + 1, most: 2),
            ),
        );
    }

    public function testAMailThatCannotBeSentIsSentLater(): void
    {
        $settings = self::service(WatchSettingsRepository::class);
        $settings->set(new Actor('Tomas Okoye'), new SettingsWish(100, 'ilse@watchdog.example', '00:00', '', '', 'UTC'));
        $this->events->enter($this->watch(), EventKind::Vanished, null, self::URL, new ChangeNotice('', 'Gone.'));
        $mailer = new class implements MailerInterface {
            public function send(RawMessage $message, ?Envelope $envelope = null): void
            {
                throw new TransportException('Nobody listens.');
            }
        };
        $digest = new Digest(
            $this->events, $settings, $mailer, self::service(Environment::class), self::service(TranslatorInterface::class),
            self::service(ClockInterface::class), new NullLogger(), 'ypomna@localhost.example',
        );
        self::assertFalse($digest->send());
        self::assertCount(1, $this->events->toMail(10), 'nothing counts as told');
        self::assertTrue(self::service(Digest::class)->send());
        self::assertSame([], $this->events->toMail(10));
    }

    private function watch(Condition $condition = new Condition()): Watch
    {
        $wish = new WatchWish(WatchScope::Address, self::URL, '', $condition);
        $watch = $this->requests->begin(new Actor('The archivist'), Viewer::system(), $wish);
        if (ConditionKind::Any !== $condition->kind) {
            $watch->keeps = false;
            $this->requests->save($watch);
        }

        return $watch;
    }

    private function check(
        string $body,
        LiveReason $reason = LiveReason::Ok,
        bool $isGone = false,
        ?string $etag = null,
        int $status = 200,
    ): void {
        TestClock::forward('1 day');
        $url = Url::parse(self::URL);
        self::service(EventDispatcherInterface::class)
            ->dispatch(new AddressChecked(
                $this->live(),
                new CheckResult(
                    $url,
                    $url,
                    [],
                    $status,
                    'text/html',
                    'text/html; charset=utf-8',
                    $body,
                    etag: $etag,
                    modified: null === $etag ? null : 'Mon, 03 Mar 2025 10:00:00 GMT',
                ),
                new Assessment($reason, ['So it was.'], 0.9),
                $isGone,
            ));
    }

    private function live(): int
    {
        return array_values(self::service(CheckQueue::class)->ids(Viewer::system(), [Url::parse(self::URL)]))[0];
    }

    private function page0(): \Ypomna\App\Watch\Value\WatchedPage
    {
        return $this->pages->pages(self::made(Watch::class)[0])[0];
    }

    /** @return list<EventLine> */
    private function told(): array
    {
        return $this->events->events(Viewer::system());
    }

    private function jobs(): int
    {
        $count = self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM capture_job');

        return is_numeric($count) ? (int) $count : -1;
    }

    private function token(string $path): string
    {
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->get($path), $m));

        return $m[1];
    }

    private static function fares(string $made): string
    {
        return \sprintf(self::PAGE, $made.' 2025 10:00');
    }

    /** What a server is asked with about the page that is watched. */
    private function conditions(): string
    {
        $event = new CheckBegins($this->live());
        self::service(EventDispatcherInterface::class)->dispatch($event);

        return $event->conditions;
    }
}
